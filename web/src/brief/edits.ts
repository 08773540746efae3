import type { Brief, Group, Summary, Tree } from "../api/client";

/** Edits of a brief; each gives a new one. What a change makes senseless (a column's order, a chart's value) goes with it. */

export function begin(start: string): Brief {
  return { version: 1, start };
}

/** The record type that a report is about; of several, the first. */
export const startOf = (b: Brief): string => b.start ?? b.parts?.[0]?.start ?? "";

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
  return unused(
    (of ? `${fn}_${of}` : fn).replace(/[^a-z0-9_]/g, "_"),
    list.map((s) => s.key),
  );
}

function unused(base: string, taken: string[]): string {
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}_${n}`;
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

/** A brief without members that hold nothing. */
export function tidy(b: Brief): Brief {
  const next = { ...b } as Record<string, unknown>;
  for (const [key, v] of Object.entries(next)) {
    if (v === undefined || v === "" || v === false || (Array.isArray(v) && v.length === 0)) delete next[key];
  }
  if (b.blank === false) next.blank = false;
  return next as Brief;
}

/** What used something that is gone is taken out with it. */
export function withoutPaths(b: Brief, gone: (path: string) => boolean): Brief {
  const keep = <T extends { field?: string }>(list: T[] | undefined) => list?.filter((x) => !x.field || !gone(x.field));
  const next: Brief = {
    ...b,
    columns: keep(b.columns),
    order: keep(b.order),
    groups: keep(b.groups),
    across: keep(b.across),
    summaries: b.summaries?.filter((s) => !s.of || !gone(s.of)),
    filter: b.filter && prune(b.filter, gone),
  };
  return setSummaries(tidy(next), tidy(next).summaries ?? []);
}

function prune(t: Tree, gone: (path: string) => boolean): Tree | undefined {
  if (t.all) return { ...t, all: t.all.map((k) => prune(k, gone)).filter((k) => k !== undefined) };
  if (t.any) return { ...t, any: t.any.map((k) => prune(k, gone)).filter((k) => k !== undefined) };
  if (t.not) {
    const kid = prune(t.not, gone);
    return kid && { ...t, not: kid };
  }
  return (t.field && gone(t.field)) || (t.other && gone(t.other)) ? undefined : t;
}

/** Rows become columns and columns rows; rows that columns have no room for stay, after the others. */
export function swapAxes(b: Brief): Brief {
  const { groups = [], across = [], ...rest } = b;
  return tidy({ ...rest, groups: [...across, ...groups.slice(2)], across: groups.slice(0, 2) });
}

/** A key that is not taken: "age", "age_2". */
export function freeKey(base: string, taken: string[]): string {
  const clean =
    base
      .toLowerCase()
      .replace(/[^a-z0-9_]+/g, "_")
      .replace(/^[^a-z]+/, "")
      .slice(0, 40) || "field";
  return unused(clean === "label" ? "label_1" : clean, taken);
}
