import type { Brief, ListPage } from "../api/client";
import type { ColumnEdit } from "./HeadCell";

/** Sorts by a field: downwards or upwards first as it suits the field, then the other way, then as it was. */
export function sortBy(b: Brief, field: string, downFirst: boolean): Brief {
  const now = b.order?.[0]?.field === field ? b.order[0] : undefined;
  const { order: _, ...rest } = b;
  if (!now) return { ...rest, order: [{ field, ...(downFirst ? { desc: true } : {}) }] };
  if (!!now.desc === downFirst) return { ...rest, order: [{ field, ...(downFirst ? {} : { desc: true }) }] };
  return rest;
}

/** Sorts as a column's head asks: the way that it names, else the next in turn. */
export function sortAs(b: Brief, field: string, downFirst: boolean, desc?: boolean): Brief {
  return desc === undefined ? sortBy(b, field, downFirst) : { ...b, order: [{ field, ...(desc ? { desc } : {}) }] };
}

/** Moves, sizes or removes a column. A brief that names none is given those that its list shows. */
export function editColumn(b: Brief, shown: ListPage["columns"], at: number, edit: ColumnEdit): Brief {
  const columns: NonNullable<Brief["columns"]> = b.columns?.length
    ? [...b.columns]
    : shown.map((c) => ({ field: c.field }));
  if ("remove" in edit) columns.splice(at, 1);
  else if ("width" in edit) columns[at] = { ...columns[at], format: { ...columns[at].format, width: edit.width } };
  else {
    const to = at + edit.move;
    if (to < 0 || to >= columns.length) return b;
    [columns[at], columns[to]] = [columns[to], columns[at]];
  }
  return { ...b, columns };
}
