import { memo } from "react";
import type { ListPage } from "../api/client";
import { Menu, MenuItem } from "../ui/Menu";
import { columnLimits } from "./useRecordColumns";

type Column = ListPage["columns"][0];

export type ColumnEdit = { move: -1 | 1 } | { width: number } | { remove: true };

/** What heads do to the column at an index. */
export type HeadActs = {
  sort: (field: string, number: boolean, desc?: boolean) => void;
  edit: (index: number, edit: ColumnEdit) => void;
  pull: (index: number, e: React.MouseEvent | React.TouchEvent) => void;
};

/**
 * The head of a column: a press sorts; where columns may be changed, its edge is pulled to size it, and a menu has all of
 * it for keys: sort, move, size, remove.
 */
export const HeadCell = memo(function HeadCell({
  column: c,
  index,
  width,
  last,
  sorted,
  sorts,
  edits,
  acts,
}: {
  column: Column;
  index: number;
  /** How wide it is, in px, where it may be changed. */
  width: number;
  last: boolean;
  sorted?: "ascending" | "descending";
  sorts: boolean;
  edits: boolean;
  acts: HeadActs;
}) {
  const big = c.number || c.kind === "date" || c.kind === "time";
  const mark = sorted ? (sorted === "descending" ? " ↓" : " ↑") : "";
  const first = index === 0;
  const edit = (e: ColumnEdit) => acts.edit(index, e);
  const pull = (e: React.MouseEvent | React.TouchEvent) => acts.pull(index, e);
  return (
    <div
      role="columnheader"
      aria-sort={sorted ?? "none"}
      className={`th group relative flex min-w-0 items-center px-2 leading-8 ${c.number ? "justify-end" : ""}`}
    >
      {sorts ? (
        <button
          type="button"
          className="min-w-0 truncate hover:text-ink"
          title={c.label}
          onClick={() => acts.sort(c.field, big)}
        >
          {c.label}
          {mark}
        </button>
      ) : (
        <span className="truncate" title={c.label}>
          {c.label}
          {mark}
        </span>
      )}
      {edits && (
        <>
          <Menu
            label={`Column ${c.label}`}
            className={`absolute ${c.number ? "left-0" : "right-2"} rounded bg-paper px-1 text-ink3 leading-6 opacity-0 hover:bg-sunk focus-visible:opacity-100 group-hover:opacity-100 data-[state=open]:opacity-100`}
            text="⋮"
            align="start"
            width={192}
          >
            {sorts && <MenuItem label={big ? "Largest first" : "A to Z"} onPick={() => acts.sort(c.field, big, big)} />}
            {sorts && (
              <MenuItem label={big ? "Smallest first" : "Z to A"} onPick={() => acts.sort(c.field, big, !big)} />
            )}
            {!first && <MenuItem label="Move to the left" onPick={() => edit({ move: -1 })} />}
            {!last && <MenuItem label="Move to the right" onPick={() => edit({ move: 1 })} />}
            <MenuItem label="Wider" onPick={() => edit({ width: Math.min(columnLimits.most, width + 40) })} />
            <MenuItem label="Narrower" onPick={() => edit({ width: Math.max(columnLimits.least, width - 40) })} />
            {!(first && last) && <MenuItem label="Remove" onPick={() => edit({ remove: true })} />}
          </Menu>
          <span
            aria-hidden
            className="absolute top-0 right-0 h-full w-2 cursor-col-resize touch-none border-transparent border-r-2 hover:border-[var(--amber)]"
            onMouseDown={pull}
            onTouchStart={pull}
          />
        </>
      )}
    </div>
  );
});
