import type { Brief, Mark, SchemaInfo, Schemas, Tree } from "../../api/client";
import { fieldAt, typeOf } from "../compose/fields";

type Within = Schemas["MainPeriod"]["within"];
export type FieldFilter = Schemas["FieldFilter"];

/** What a board's panels are narrowed to: for this reading, or as the board keeps it. */
export type Filters = { period?: Within; whose?: Brief["whose"]; fields?: FieldFilter[] };

/** The path from a record type to a field of another: its own, or over the nearest link. */
export function pathTo(schema: SchemaInfo, start: string | undefined, type: string, field: string): string | undefined {
  if (start === type) return field;
  const doors = (key: string | undefined) =>
    (typeOf(schema, key)?.fields ?? []).filter((f) => f.kind === "link" && !f.worked && !f.key.endsWith("_by"));
  const near = doors(start).find((f) => f.to === type);
  if (near) return `${near.key}.${field}`;
  for (const f of doors(start)) {
    const far = doors(f.to).find((g) => g.to === type);
    if (far) return `${f.key}.${far.key}.${field}`;
  }
  return undefined;
}

/** Which field of which record type a path ends at. */
export function endOf(schema: SchemaInfo, start: string | undefined, path: string): { type: string; field: string } | undefined {
  const steps = path.split(".");
  let type = typeOf(schema, start);
  for (const step of steps.slice(0, -1)) type = typeOf(schema, type?.fields.find((f) => f.key === step)?.to);
  const field = steps[steps.length - 1];
  return type?.fields.some((f) => f.key === field) ? { type: type.key, field } : undefined;
}

/**
 * A panel's brief under the board's filters, with what it obeys and what it cannot. A period takes the place of the
 * report's own, on the report's own date field; a report without one stays as it is,
 * and so does a panel with a period of its own.
 */
export function underFilters(schema: SchemaInfo, b: Brief, f: Filters, own?: Within): { brief: Brief; obeys: string[]; ignores: string[] } {
  const obeys: string[] = [];
  const ignores: string[] = [];
  type Part = Pick<Brief, "start" | "period" | "whose" | "filter">;
  const narrowed = <T extends Part>(p: T): T => {
    let next = own !== undefined && p.period ? { ...p, period: { ...p.period, within: own } } : p;
    if (f.period !== undefined) {
      if (next.period && own !== undefined) ignores.push("the period, having one of its own");
      else if (next.period) {
        obeys.push(`the period by ${fieldAt(schema, p.start, next.period.field)?.label.toLowerCase() ?? next.period.field}`);
        next = { ...next, period: { ...next.period, within: f.period } };
      } else ignores.push("the period, having none of its own");
    }
    if (f.whose !== undefined && f.whose !== "everyone") {
      if (typeOf(schema, p.start)?.owner) {
        obeys.push("whose");
        next = { ...next, whose: f.whose };
      } else ignores.push("whose, its records having no owner");
    }
    for (const x of f.fields ?? []) {
      const path = pathTo(schema, p.start, x.type, x.field);
      const label = fieldAt(schema, x.type, x.field)?.label.toLowerCase() ?? x.field;
      if (!path) {
        ignores.push(`${label}, not being linked to it`);
        continue;
      }
      obeys.push(label);
      const tree: Tree = { field: path, is: "any_of", values: x.values ?? [] };
      const was = next.filter;
      next = { ...next, filter: { all: [...(was?.all ?? (was ? [was] : [])), tree] } };
    }
    return next;
  };
  const brief = b.parts ? { ...b, parts: b.parts.map(narrowed) } : narrowed(b);
  return { brief, obeys: [...new Set(obeys)], ignores: [...new Set(ignores)] };
}

/** What of marks can narrow the other panels: the values of their first group, where it is no date and no own field. */
export function filterOf(schema: SchemaInfo, b: Brief, marks: Mark[]): FieldFilter | undefined {
  const g = b.groups?.[0];
  const keys = marks.map((m) => m.rows?.[0]);
  if (!g?.field || g.by || g.field.startsWith("own.") || !keys.length || !keys.every((k) => k?.startsWith("="))) return undefined;
  const end = endOf(schema, b.start, g.field);
  return end && { ...end, values: [...new Set(keys.map((k) => (k as string).slice(1)))] };
}

export const isEmpty = (f: Filters) => f.period === undefined && (f.whose === undefined || f.whose === "everyone") && !f.fields?.length;
