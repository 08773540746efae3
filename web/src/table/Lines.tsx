import { memo, useRef } from "react";
import type { Answer, ListPage, Mark } from "../api/client";
import { GroupCells } from "./GroupCells";
import type { GroupLine } from "./outline";
import { RecordCells } from "./RecordCells";

export const recordHeight = 30;

type RecordLineProps = {
  index: number;
  top: number;
  template: string;
  columns: ListPage["columns"];
  type: string;
  row?: ListPage["rows"][0];
  /** Whether it is under a group, and so begins with the room that its groups take. */
  under?: boolean;
  /** An older answer while the newer one is being fetched. */
  stale?: boolean;
  work?: LineWork;
};

/** What a line that is worked in has besides. */
export type LineWork = {
  chosen: boolean;
  onChoose: (place: number, span?: boolean) => void;
  /** Its place among the records. */
  place: number;
  /** The column where one is, where that is in this line. */
  at?: number;
  onAt: (at: { row: number; column: number }) => void;
  onEdit: (row: number, column: number) => void;
  /** What the cell is edited with, while it is. */
  editor?: React.ReactNode;
};

const sameWork = (a: LineWork | undefined, b: LineWork | undefined) =>
  a === b || (!!a && !!b && a.chosen === b.chosen && a.at === b.at && a.place === b.place && !a.editor && !b.editor);

/** The line of a record; it is drawn once and then only moved out of sight. */
export const RecordLine = memo(
  function RecordLine(p: RecordLineProps) {
    // What a cell is edited with may be larger than its line.
    const open = !!p.work?.editor;
    return (
      <div
        role="row"
        aria-rowindex={p.index + 2}
        aria-selected={p.work?.chosen}
        className={`absolute left-0 grid w-full border-line border-b leading-[29px] ${p.work?.chosen ? "bg-sea-soft" : "hover:bg-sunk"} ${p.under ? "text-[13px]" : ""} ${p.stale ? "opacity-55" : ""} ${open ? "z-20" : ""}`}
        style={{
          gridTemplateColumns: p.template,
          height: recordHeight,
          top: p.top,
          contain: open ? undefined : "strict",
        }}
      >
        {p.under && <span />}
        {p.work && p.row && <Chooser work={p.work} row={p.row} />}
        <RecordCells columns={p.columns} type={p.type} row={p.row} work={p.work} />
      </div>
    );
  },
  (a, b) =>
    sameWork(a.work, b.work) &&
    (Object.keys({ ...a, ...b }) as (keyof RecordLineProps)[]).every((k) => k === "work" || a[k] === b[k]),
);

function Chooser({ work, row }: { work: LineWork; row: NonNullable<RecordLineProps["row"]> }) {
  const span = useRef(false);
  return (
    <span role="gridcell" className="grid place-items-center">
      <input
        type="checkbox"
        tabIndex={-1}
        aria-label={`Choose ${row.cells[0]?.text || `number ${row.id}`}`}
        checked={work.chosen}
        onMouseDown={(e) => {
          span.current = e.shiftKey;
        }}
        onChange={(e) => {
          work.onChoose(work.place, span.current);
          span.current = false;
          // The keys are the list's, not the box's.
          e.currentTarget.closest<HTMLElement>("[role=grid]")?.focus({ preventScroll: true });
        }}
      />
    </span>
  );
}

/** The line of a group, or of all together: its name, with the way to open and close it, and its values. */
export function GroupLineRow({
  index,
  line,
  answer,
  top,
  height,
  template,
  inView,
  look,
  open,
  onTurn,
  onMark,
}: {
  index: number;
  line: GroupLine;
  answer: Answer;
  top: number;
  height: number;
  template: string;
  inView?: React.CSSProperties;
  look: "total" | "head" | "";
  /** Whether what is under it is shown; undefined where nothing is. */
  open?: boolean;
  onTurn: () => void;
  onMark?: (m: Mark, words: string) => void;
}) {
  const ground =
    look === "total"
      ? "border-ink border-t bg-paper font-bold"
      : look === "head"
        ? "bg-sunk font-semibold"
        : "bg-paper";
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`absolute left-0 w-full border-line border-b ${ground}`}
      style={{ height, top }}
    >
      <div role="presentation" className="grid bg-[inherit]" style={{ gridTemplateColumns: template, ...inView }}>
        <div
          role="rowheader"
          className="sticky left-0 z-[1] truncate bg-[inherit] px-2 py-1.5 text-left"
          title={line.label}
          style={{ paddingLeft: 8 + Math.max(0, line.depth - 1) * 18 }}
        >
          {open !== undefined && (
            <button
              type="button"
              className="mr-1 inline-block w-5 text-center text-ink2"
              aria-expanded={open}
              aria-label={`${open ? "Close" : "Open"} ${line.label}`}
              onClick={onTurn}
            >
              {open ? "▾" : "▸"}
            </button>
          )}
          {line.label}
        </div>
        <GroupCells line={line} answer={answer} onMark={onMark} />
      </div>
    </div>
  );
}
