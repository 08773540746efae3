import type { ListPage } from "../api/client";
import { NotYours } from "../ui/Say";
import type { LineWork } from "./Lines";

/**
 * The values of a record, under their columns; what is not fetched yet looks so. Its links are plain ones, since a list has
 * hundreds that would all be drawn anew with each step: the table leads where they lead (useWays).
 */
export function RecordCells({
  columns,
  type,
  row,
  work,
}: {
  columns: ListPage["columns"];
  type: string;
  row?: ListPage["rows"][0];
  work?: LineWork;
}) {
  if (!row)
    return columns.map((c) => (
      <div key={c.field} role="cell" className="px-2">
        <span className="inline-block h-2 w-2/3 rounded bg-sunk" />
      </div>
    ));
  return row.cells.map((cell, i) => (
    <div
      // biome-ignore lint/suspicious/noArrayIndexKey: cells stand in the order of columns
      key={i}
      role={work ? "gridcell" : "cell"}
      id={work?.at === i ? "cell-at" : undefined}
      className={`${work?.at === i && work.editor ? "" : "truncate px-2"} ${columns[i]?.number ? "text-right" : ""} ${work?.at === i ? "relative outline-2 outline-[var(--amber)] outline-offset-[-2px]" : ""}`}
      title={cell.own ? `${cell.own}, ${cell.text || "without an exchange rate"}` : cell.text}
      {...(work && {
        onClick: () => work.at !== i && work.onAt({ row: work.place, column: i }),
        onDoubleClick: () => work.onEdit(work.place, i),
      })}
    >
      {work?.at === i && work.editor ? (
        work.editor
      ) : cell.hidden ? (
        <NotYours />
      ) : i === 0 && columns[0]?.kind !== "link" ? (
        <a className="link block truncate" href={`/records/${type}/${row.id}`} data-place={work?.place}>
          {cell.text || `number ${row.id}`}
        </a>
      ) : cell.id ? (
        <a className="block truncate hover:underline" href={`/records/${columns[i].to}/${cell.id}`}>
          {cell.text}
        </a>
      ) : cell.own ? (
        <span className="flex justify-end gap-1.5">
          <span className="truncate text-ink2 text-[12.5px]">{cell.own}</span>
          <span className="shrink-0">{cell.text || "no rate"}</span>
        </span>
      ) : (
        cell.text
      )}
    </div>
  ));
}
