import type { Panel } from "../../api/client";

/** A panel of words: a heading over what follows, or a text. */
export function PanelWords({ options, handle }: { options: NonNullable<Panel["options"]>; handle?: React.ReactNode }) {
  return (
    <div
      className={`flex h-full items-end gap-2 ${options.section ? "border-ink border-b px-1 pb-1" : "sheet items-start p-3.5"}`}
    >
      {options.section ? (
        <h2 className="title mr-auto text-[19px]">{options.words}</h2>
      ) : (
        <p className="mr-auto whitespace-pre-line">{options.words}</p>
      )}
      {handle}
    </div>
  );
}
