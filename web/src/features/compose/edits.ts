import type { Brief, Group, Summary, Tree } from "../../api/client";

/** Edits of a brief; each gives a new one. What a change makes senseless (a column's order, a chart's value) goes with it. */

export function begin(start: string): Brief {
  return { version: 1, start };
}

export function conditions(b: Brief): Tree[] {
  if (!b.filter) return [];
  return b.filter.all ?? [b.filter];
}

export function withConditions(b: Brief, list: Tree[]): Brief {
  const { filter: _, ...rest } = b;
  return list.length === 0 ? rest : { ...rest, filter: { all: list } };
}

/** The place of a condition that a clause's pointer names. */
export function conditionAt(pointer: string): number {
  const m = /^\/filter(?:\/all\/(\d+))?$/.exec(pointer);
  return m ? Number(m[1] ?? 0) : -1;
}

export function setCondition(b: Brief, at: number, t: Tree): Brief {
  const list = [...conditions(b)];
  if (at < 0 || at >= list.length) list.push(t);
  else list[at] = t;
  return withConditions(b, list);
}

export const dropCondition = (b: Brief, at: number): Brief =>
  withConditions(
    b,
    conditions(b).filter((_, i) => i !== at),
  );

type Axis = "groups" | "across";

export function setGroup(b: Brief, axis: Axis, at: number, g: Group): Brief {
  const list = [...(b[axis] ?? [])];
  if (at >= list.length) list.push(g);
  else list[at] = g;
  return withChart({ ...b, [axis]: list });
}

export function dropGroup(b: Brief, axis: Axis, at: number): Brief {
  const list = (b[axis] ?? []).filter((_, i) => i !== at);
  const next = { ...b, [axis]: list };
  if (list.length === 0) delete next[axis];
  if (!next.groups && !next.across) delete next.chart;
  return next;
}

/** A report with groups is drawn from the first on. */
function withChart(b: Brief): Brief {
  return b.chart ? b : { ...b, chart: { kind: "column" } };
}

export function moveGroup(b: Brief, axis: Axis, at: number, by: number): Brief {
  return { ...b, [axis]: moved(b[axis] ?? [], at, at + by) };
}

export function moved<T>(list: T[], from: number, to: number): T[] {
  if (to < 0 || to >= list.length) return list;
  const next = [...list];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}

export function keyFor(list: Summary[], fn: string, of: string | undefined): string {
  const base = (of ? `${fn}_${of}` : fn).replace(/[^a-z0-9_]/g, "_");
  const taken = new Set(list.map((s) => s.key));
  let key = base;
  for (let n = 2; taken.has(key); n++) key = `${base}_${n}`;
  return key;
}

export function setSummaries(b: Brief, list: Summary[]): Brief {
  const keys = new Set(list.length > 0 ? list.map((s) => s.key) : ["count"]);
  const next: Brief = { ...b, summaries: list };
  if (list.length === 0) delete next.summaries;
  if (next.chart?.values) {
    const values = next.chart.values.filter((v) => keys.has(v));
    next.chart = { ...next.chart, values };
    if (values.length === 0) delete next.chart.values;
  }
  const keep = (g: Group): Group => {
    const { top, order, ...rest } = g;
    return {
      ...rest,
      ...(top && keys.has(top.by) ? { top } : {}),
      ...(order && (order.by === "label" || keys.has(order.by)) ? { order } : {}),
    };
  };
  if (next.groups) next.groups = next.groups.map(keep);
  if (next.across) next.across = next.across.map(keep);
  return next;
}

/** Sorts by a field: first downwards for numbers and dates, then the other way, then not at all. */
export function sortBy(b: Brief, field: string, downFirst: boolean): Brief {
  const now = b.order?.[0]?.field === field ? b.order[0] : undefined;
  const { order: _, ...rest } = b;
  if (!now) return { ...rest, order: [{ field, ...(downFirst ? { desc: true } : {}) }] };
  if (!!now.desc === downFirst) return { ...rest, order: [{ field, ...(downFirst ? {} : { desc: true }) }] };
  return rest;
}
