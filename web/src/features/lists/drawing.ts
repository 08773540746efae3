import type { Brief, FieldInfo, Group, SchemaInfo, Schemas, Summary, TypeInfo } from "../../api/client";
import { fieldAt, isDated, isNumeric } from "../../fields/fields";

export type Drawn = Schemas["Drawn"];
export type ListChoice = Schemas["Choice"];

/** What can be drawn: how many, and the sum of each amount. */
export function measures(type: TypeInfo): { words: string; summary: Summary }[] {
  const sums = type.fields
    .filter((f) => isNumeric(f.kind) && f.kind !== "percent")
    .map((f) => ({ words: f.label.toLowerCase(), summary: { key: `sum_${f.key}`, fn: "sum", of: f.key } as Summary }));
  return [{ words: "count", summary: { key: "count", fn: "count" } as Summary }, ...sums];
}

/** A group by a field: dates by month. */
export const groupBy = (path: string, f: FieldInfo): Group =>
  isDated(f.kind) ? { field: path, by: "month" } : { field: path };

/** What is drawn beside a list of which nobody has chosen it: its first amount by its stages, or what there is of them. */
export function firstDrawn(type: TypeInfo): Drawn | undefined {
  const ordered = type.fields.find((f) => f.stages) ?? type.fields.find((f) => f.kind === "choice" && !f.worked);
  const by = ordered ?? type.fields.find((f) => isDated(f.kind));
  if (!by) return undefined;
  const all = measures(type);
  const money = all.find((m) => type.fields.some((f) => f.key === m.summary.of && f.kind === "money" && !f.worked));
  return { summary: (money ?? all[0]).summary, group: groupBy(by.key, by), kind: isDated(by.kind) ? "column" : "bar" };
}

/** The records of a list, drawn. */
export function drawn(list: Brief, d: Drawn, by?: Group): Brief {
  const group = by ?? d.group;
  const { columns: _c, order: _o, limit: _l, groups: _g, across: _a, target: _t, compare: _p, ...rest } = list;
  const kind = by ? (by.by ? "column" : "bar") : d.kind;
  return { ...rest, groups: [group], summaries: [d.summary], totalsOnly: true, chart: { kind } } as Brief;
}

/** What a report draws, as far as it can be drawn of another list: its first group and the summary that it draws. */
export function drawnBy(b: Brief): Drawn | undefined {
  const group = b.groups?.[0];
  if (!group?.field || group.field.startsWith("own.") || b.bring) return undefined;
  const list = b.summaries ?? [];
  const summary = (list.find((s) => s.key === b.chart?.values?.[0]) ??
    list[0] ?? { key: "count", fn: "count" }) as Summary;
  if (summary.formula || summary.of?.startsWith("own.")) return undefined;
  const { order: _, ...plain } = group;
  return { summary, group: plain, kind: b.chart?.kind && b.chart.kind !== "table" ? b.chart.kind : "bar" };
}

/** Fields by which what is picked is broken down, those that say most first. */
export function breakdowns(schema: SchemaInfo, type: TypeInfo, but: string[]): { path: string; label: string }[] {
  const link = type.fields.find((f) => f.kind === "link" && !f.worked && f.key !== type.owner && f.written);
  const far = link && schema.types.find((t) => t.key === link.to)?.fields.find((f) => f.kind === "choice");
  const paths = [
    type.owner,
    link && far ? `${link.key}.${far.key}` : "",
    ...type.fields.filter((f) => f.kind === "choice" && (f.written || f.stages)).map((f) => f.key),
    ...type.fields.filter((f) => f.kind === "date" && !f.worked).map((f) => f.key),
  ];
  return [...new Set(paths)]
    .filter((p): p is string => !!p && !but.includes(p))
    .flatMap((path) => {
      const found = fieldAt(schema, type.key, path);
      return found ? [{ path, label: found.label }] : [];
    })
    .slice(0, 4);
}
