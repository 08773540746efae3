import type { FieldInfo } from "../../api/client";

type Values = Record<string, string>;

/**
 * Values as the controls of a form have them: a time without its zone, which is the organisation's, and without seconds
 * where there are none.
 */
export const asEdited = (fields: FieldInfo[], values: Values): Values =>
  Object.fromEntries(
    Object.entries(values).map(([key, text]) => [
      key,
      fields.find((f) => f.key === key)?.kind === "time" ? text.slice(0, 19).replace(/:00$/, "") : text,
    ]),
  );

/** What is sent of a form: the fields that are other than they were. */
export const written = (fields: FieldInfo[], was: Values, now: Values): Values =>
  Object.fromEntries(
    fields.filter((f) => (now[f.key] ?? "") !== (was[f.key] ?? "")).map((f) => [f.key, now[f.key] ?? ""]),
  );

/** The fields that someone else changed since the record was read, and whether one has changed them as well. */
export const theirs = (fields: FieldInfo[], was: Values, now: Values, mine: Values) =>
  fields
    .filter((f) => (now[f.key] ?? "") !== (was[f.key] ?? ""))
    .map((field) => ({
      field,
      both: (mine[field.key] ?? "") !== (was[field.key] ?? "") && mine[field.key] !== now[field.key],
    }));

/** The record with what both changed: one's own fields, theirs, and of those that both changed the ones that are chosen. */
export function merged(
  fields: FieldInfo[],
  was: Values,
  now: Values,
  mine: Values,
  keepMine: ReadonlySet<string>,
): Values {
  const out: Values = { ...mine };
  for (const { field, both } of theirs(fields, was, now, mine))
    if (!both || !keepMine.has(field.key)) out[field.key] = now[field.key] ?? "";
  return out;
}
