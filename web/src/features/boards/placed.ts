import type { Brief, Panel } from "../../api/client";

type Options = NonNullable<Panel["options"]>;

/** The looks that a style says; a chart that is given another lets go of its own. */
const worn = ["palette", "legend", "guides", "labels", "totals", "on"] as const;

/** A report's brief as a panel shows it: another kind of chart, another style, fewer groups or records, another order. */
export function asPlaced(b: Brief, o: Options): Brief {
  if (o.list && !b.parts) {
    const { groups, across, summaries, totalsOnly, compare, target, targetOf, chart, ...list } = b;
    return asPlaced(list as Brief, { items: o.items });
  }
  let next = b;
  if (o.kind) next = { ...next, chart: { ...next.chart, kind: o.kind } };
  if (o.style) {
    const chart = { ...(next.chart ?? { kind: "column" }), style: o.style };
    for (const look of worn) delete chart[look];
    next = { ...next, chart };
  }
  const first = next.groups?.[0];
  if (!first) return o.items ? { ...next, limit: Math.min(o.items, next.limit ?? o.items) } : next;
  if (!o.items && !o.order) return next;
  const key = next.summaries?.[0]?.key ?? (next.parts ? next.parts[0]?.summaries?.[0]?.key : undefined) ?? "count";
  const { order: _, ...rest } = first;
  const group = {
    ...(o.order ? { ...rest, order: o.order === "label" ? { by: "label" } : { by: key, desc: o.order === "largest" } } : first),
    // A group that lists all there could be has no first few: it shows all.
    ...(o.items && !first.every ? { top: { n: o.items, by: key, from: o.order === "smallest" ? "smallest" : "largest" } } : {}),
  };
  return { ...next, groups: [group, ...(next.groups ?? []).slice(1)] };
}
