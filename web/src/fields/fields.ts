import type { FieldInfo, SchemaInfo, TypeInfo } from "../api/client";

/** A field that a path leads to, with the words that lead there. */
export type Found = { path: string; label: string; field: FieldInfo; group: string };

export const typeOf = (schema: SchemaInfo, key: string | undefined): TypeInfo | undefined =>
  schema.types.find((t) => t.key === key);

/** Follows a path over links to one. */
export function fieldAt(schema: SchemaInfo, start: string | undefined, path: string): Found | undefined {
  let type = typeOf(schema, start);
  const labels: string[] = [];
  let field: FieldInfo | undefined;
  for (const key of path.split(".")) {
    field = type?.fields.find((f) => f.key === key);
    if (!field) return undefined;
    labels.push(field.label);
    type = field.to ? typeOf(schema, field.to) : undefined;
  }
  return field && { path, label: labels.join(" › "), field, group: "" };
}

/** Which field of which record type a path ends at. */
export function endOf(
  schema: SchemaInfo,
  start: string | undefined,
  path: string,
): { type: string; field: string } | undefined {
  const steps = path.split(".");
  let type = typeOf(schema, start);
  for (const step of steps.slice(0, -1)) type = typeOf(schema, type?.fields.find((f) => f.key === step)?.to);
  const field = steps[steps.length - 1];
  return type?.fields.some((f) => f.key === field) ? { type: type.key, field } : undefined;
}

/** All fields within some links of a record type, its own first. */
export function reach(schema: SchemaInfo, start: string, depth: number): Found[] {
  const out: Found[] = [];
  const walk = (type: TypeInfo, path: string, label: string, left: number, seen: string[]) => {
    for (const f of type.fields) {
      if (isDoor(f) || f.retired) continue;
      out.push({
        path: path + f.key,
        label: label + f.label,
        field: f,
        group: label ? label.replace(/ › $/, "") : type.label,
      });
    }
    if (left === 0) return;
    for (const f of type.fields) {
      const to = f.to ? typeOf(schema, f.to) : undefined;
      if (isDoor(f) && to) walk(to, `${path}${f.key}.`, `${label}${f.label} › `, left, seen);
      else if (to && !f.worked && !f.key.endsWith("_by") && !seen.includes(`${type.key}.${f.key}`)) {
        walk(to, `${path}${f.key}.`, `${label}${f.label} › `, left - 1, [...seen, `${type.key}.${f.key}`]);
      }
    }
  };
  const type = typeOf(schema, start);
  if (type) walk(type, "", "", depth, []);
  return out;
}

/** The fields whose words have all of the search's words, nearer ones first. */
export function search(fields: Found[], text: string): Found[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const hits = fields.filter((f) => words.every((w) => f.label.toLowerCase().includes(w) || f.path.includes(w)));
  return hits.sort((a, b) => a.path.split(".").length - b.path.split(".").length);
}

/** A door leads to fields and is none itself: own fields stand behind "own", brought records behind their link. */
const isDoor = (f: FieldInfo) => f.worked?.as === "door";

/** The links to many that a condition or a linked value can go over: a record's own, and those behind its links to one. */
export function manyFrom(schema: SchemaInfo, start: string): { path: string; label: string; type: string }[] {
  const type = typeOf(schema, start);
  if (!type) return [];
  const own = type.backs.map((x) => ({ path: x.key, label: x.label, type: x.type }));
  const behind = type.fields.flatMap((f) => {
    const to = f.kind === "link" && !f.worked && !f.key.endsWith("_by") ? typeOf(schema, f.to) : undefined;
    return (to?.backs ?? []).map((x) => ({
      path: `${f.key}.${x.key}`,
      label: `${f.label} › ${x.label}`,
      type: x.type,
    }));
  });
  return [...own, ...behind];
}

/** The two values of a yes/no field with what they are called, or neither. */
export const yesNo = (f: FieldInfo): { value: string; label: string }[] => [
  { value: "true", label: f.yes || "yes" },
  { value: "false", label: f.no || "no" },
];

export const isOwn = (path: string) => path.startsWith("own.");

export const isDated = (kind: string) => kind === "date" || kind === "time";
export const isNumeric = (kind: string) => kind === "number" || kind === "money" || kind === "percent";
