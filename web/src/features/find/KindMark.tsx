/** Says what something is: by its shape, and to a reader in a word. */
export function KindMark({ kind }: { kind: "report" | "board" | "folder" }) {
  const words = { report: "Report", board: "Dashboard", folder: "Folder" };
  return (
    <span className="flex w-[92px] shrink-0 items-center gap-2 self-start pt-px text-ink2 text-[13px]">
      <svg
        width="16"
        height="16"
        viewBox="0 0 16 16"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.5"
        aria-hidden="true"
      >
        {kind === "report" && <path d="M2 3h12M2 8h8M2 13h5" />}
        {kind === "board" && <path d="M2 2h5v7H2zM9 2h5v4H9zM9 8h5v6H9zM2 11h5v3H2z" />}
        {kind === "folder" && <path d="M2 13V4h5l1.5 2H14v7z" />}
      </svg>
      {words[kind]}
    </span>
  );
}
