import type { TypeInfo } from "../api/client";

/** The fields of a record that people write: not those that are worked out, or that the program keeps itself. */
export const writable = (t: TypeInfo) =>
  t.fields.filter(
    (f) => !f.worked && f.kind !== "id" && !["created", "changed", "created_by", "changed_by"].includes(f.key),
  );

/** Whether records of a type are written on their pages: people and teams are looked after elsewhere. */
export const isWritten = (type: string) => !["people", "teams", "changes"].includes(type);
