import type { ListPage } from "../api/client";
import { Menu, MenuItem } from "../ui/Menu";
import { columnLimits } from "./useRecordColumns";

type Column = ListPage["columns"][0];

export type ColumnEdit = { move: -1 | 1 } | { width: number } | { remove: true };

/**
 * The head of a column: a press sorts; where columns may be changed, its edge is pulled to size it, and a menu has all of
 * it for keys: sort, move, size, remove.
 */
export function HeadCell({
  column: c,
  width,
  first,
  last,
  sorted,
  onSort,
  onEdit,
  onPull,
}: {
  column: Column;
  width: number;
  first: boolean;
  last: boolean;
  sorted?: { field: string; desc?: boolean };
  onSort?: (field: string, number: boolean, desc?: boolean) => void;
  onEdit?: (edit: ColumnEdit) => void;
  onPull?: (e: React.MouseEvent | React.TouchEvent) => void;
}) {
  const big = c.number || c.kind === "date" || c.kind === "time";
  const mark = sorted?.field === c.field ? (sorted.desc ? " ↓" : " ↑") : "";
  return (
    <div
      role="columnheader"
      aria-sort={sorted?.field === c.field ? (sorted.desc ? "descending" : "ascending") : "none"}
      className={`th group relative flex min-w-0 items-center px-2 leading-8 ${c.number ? "justify-end" : ""}`}
    >
      {onSort ? (
        <button
          type="button"
          className="min-w-0 truncate hover:text-ink"
          title={c.label}
          onClick={() => onSort(c.field, big)}
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
      {onEdit && (
        <>
          <Menu
            label={`Column ${c.label}`}
            className={`absolute ${c.number ? "left-0" : "right-2"} rounded bg-paper px-1 text-ink3 leading-6 opacity-0 hover:bg-sunk focus-visible:opacity-100 group-hover:opacity-100 data-[state=open]:opacity-100`}
            text="⋮"
            align="start"
            width={192}
          >
            {onSort && <MenuItem label={big ? "Largest first" : "A to Z"} onPick={() => onSort(c.field, big, big)} />}
            {onSort && <MenuItem label={big ? "Smallest first" : "Z to A"} onPick={() => onSort(c.field, big, !big)} />}
            {!first && <MenuItem label="Move to the left" onPick={() => onEdit({ move: -1 })} />}
            {!last && <MenuItem label="Move to the right" onPick={() => onEdit({ move: 1 })} />}
            <MenuItem label="Wider" onPick={() => onEdit({ width: Math.min(columnLimits.most, width + 40) })} />
            <MenuItem label="Narrower" onPick={() => onEdit({ width: Math.max(columnLimits.least, width - 40) })} />
            {!(first && last) && <MenuItem label="Remove" onPick={() => onEdit({ remove: true })} />}
          </Menu>
          <span
            aria-hidden
            className="absolute top-0 right-0 h-full w-2 cursor-col-resize touch-none border-transparent border-r-2 hover:border-[var(--amber)]"
            onMouseDown={onPull}
            onTouchStart={onPull}
          />
        </>
      )}
    </div>
  );
}
