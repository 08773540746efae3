import type { Schemas } from "../api/client";

/** How far a total has come towards its target, with what the target is for. */
export function Towards({
  progress,
  total = true,
  bar = true,
  onOpen,
}: {
  progress: NonNullable<Schemas["Drawing"]["progress"]>;
  /** Whether the total is said, which may stand beside it already. */
  total?: boolean;
  bar?: boolean;
  /** Opens the records that make up what is reached. */
  onOpen?: () => void;
}) {
  return (
    <div role="group" aria-label="Towards the target">
      {bar && (
        <button
          type="button"
          className="relative block h-3 w-full overflow-hidden rounded bg-sunk text-left"
          disabled={!onOpen}
          aria-label={`${progress.share} of ${progress.target}: see the records`}
          onClick={onOpen}
        >
          <span
            className="block h-full bg-[var(--sea)]"
            style={{ width: `${Math.min(100, Math.max(0, progress.part * 100))}%` }}
          />
        </button>
      )}
      <p className="mt-1 flex flex-wrap gap-x-3 text-[13px]">
        <span>
          <strong>{progress.share}</strong>
          {total && ` (${progress.total})`} of {progress.target}
        </span>
        <span className="ml-auto text-ink2">{progress.missing ? `${progress.missing} to go` : "reached"}</span>
      </p>
      {progress.of && <p className="text-ink2 text-xs">The target of {progress.of}</p>}
    </div>
  );
}
