import type { Schemas, TypeInfo } from "../../api/client";

export type Changed = Schemas["ChangedBody"];
type Values = Record<string, string>;

/** The fields of a record that are other than before: what it takes to take a change back, and all that changed with it. */
export const changesOf = (type: TypeInfo, id: number, before: Values, after: Values): Changed[] =>
  [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .map((field) => ({ id, field, from: before[field] ?? "", to: after[field] ?? "" }))
    .filter((c) => c.from !== c.to && type.fields.some((f) => f.key === c.field && f.written));
