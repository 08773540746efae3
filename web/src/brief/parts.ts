import type { Brief, Group, SchemaInfo, Schemas } from "../api/client";
import { fieldAt, isDated, typeOf } from "../fields/fields";
import { freeKey, tidy } from "./edits";

type Part = Schemas["Part"];

const ofPart = ["start", "bring", "whose", "period", "filter", "own", "summaries"] as const;

/** One part of a report over several record types, as a brief of its own. */
export function partOf(b: Brief, i: number): Brief {
  const { key: _, ...rest } = (b.parts?.[i] ?? {}) as Part;
  return { version: 1, ...rest } as Brief;
}

/** Whether each part has conditions, and so a sift: for a report over one record type, one answer. */
export const narrowed = (b: Brief): boolean[] => (b.parts ?? [b]).map((p) => !!(p.whose || p.period || p.filter));

/** Puts what was made of a part back into the report. */
export function putPart(b: Brief, i: number, part: Brief): Brief {
  const next = { key: b.parts?.[i]?.key } as Record<string, unknown>;
  for (const k of ofPart) if (part[k] !== undefined) next[k] = part[k];
  return { ...b, parts: b.parts?.map((p, k) => (k === i ? (next as Part) : p)) };
}

/** The field of a record type that stands for the same as a path of another: of one name, a date for a date, the owner for a person. */
function twin(schema: SchemaInfo, from: string, path: string, to: string): string | undefined {
  const was = fieldAt(schema, from, path)?.field;
  const type = typeOf(schema, to);
  if (!was || !type) return undefined;
  const same = fieldAt(schema, to, path)?.field;
  if (same && same.kind === was.kind && same.to === was.to) return path;
  const fits = type.fields.filter((f) =>
    isDated(was.kind) ? isDated(f.kind) : f.kind === was.kind && f.to === was.to,
  );
  return (fits.find((f) => f.key === type.owner) ?? fits.find((f) => !/^(created|changed)/.test(f.key)) ?? fits[0])
    ?.key;
}

/** Sets another record type beside those of a report. Groups that it has nothing for are taken out. */
export function beside(schema: SchemaInfo, b: Brief, start: string): Brief {
  const { columns: _c, order: _o, limit: _l, target: _t, ...rest } = b;
  const first = b.parts ?? [onlyPart(b)];
  const keys = first.map((p) => p.key ?? "");
  const key = freeKey(start, keys);
  const parts = [
    ...first,
    { key, start, summaries: [{ key: freeKey(`${start}_count`, sumKeys(first)), fn: "count" }] } as Part,
  ];
  const widen = (list: Group[] | undefined) =>
    list
      ?.map((g): Group | undefined => {
        const paths = g.paths ?? { [keys[0]]: g.field ?? "" };
        const match = twin(schema, first[0].start ?? "", paths[keys[0]], start);
        if (!match) return undefined;
        const { field: _, ...more } = g;
        const label = g.label ?? fieldAt(schema, first[0].start, paths[keys[0]])?.label ?? paths[keys[0]];
        return { ...more, label, paths: { ...paths, [key]: match } };
      })
      .filter((g) => g !== undefined);
  for (const k of ofPart) if (k !== "summaries" || !b.parts) delete (rest as Record<string, unknown>)[k];
  const next = tidy({ ...rest, parts, groups: widen(b.groups), across: widen(b.across), totalsOnly: true } as Brief);
  return next.chart ? { ...next, chart: { kind: next.chart.kind === "funnel" ? "bar" : next.chart.kind } } : next;
}

/** Takes a part out; what is left of two is a report over one record type again. */
export function withoutPart(b: Brief, i: number): Brief {
  const parts = b.parts ?? [];
  const gone = parts[i]?.key ?? "";
  const left = parts.filter((_, k) => k !== i);
  const slim = (list: Group[] | undefined) =>
    list?.map((g) => {
      const { [gone]: _, ...paths } = g.paths ?? {};
      return { ...g, paths };
    });
  if (left.length > 1) return tidy({ ...b, parts: left, groups: slim(b.groups), across: slim(b.across) });
  const { parts: _p, summaries: _s, ...rest } = b;
  const { key = "", ...only } = left[0];
  const one = (list: Group[] | undefined) =>
    list?.map(({ paths, label: _, ...g }) => ({ ...g, field: paths?.[key] ?? "" })).filter((g) => g.field);
  const { chart, ...whole } = { ...rest, ...only, groups: one(b.groups), across: one(b.across) } as Brief;
  return tidy({ ...whole, ...(chart ? { chart: { kind: chart.kind } } : {}) });
}

function onlyPart(b: Brief): Part {
  const part = { key: b.start } as Record<string, unknown>;
  for (const k of ofPart) if (b[k] !== undefined) part[k] = b[k];
  if (!b.summaries) part.summaries = [{ key: "count", fn: "count" }];
  return part as Part;
}

const sumKeys = (parts: Part[]) => parts.flatMap((p) => (p.summaries ?? []).map((s) => s.key));
