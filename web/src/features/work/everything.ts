import type { Brief, TypeInfo } from "../../api/client";
import { begin } from "../../brief/edits";
import { difference } from "../../brief/reading";

/** All records of a type, those that were made last first. */
export const everything = (t: TypeInfo): Brief => ({
  ...begin(t.key),
  ...(t.fields.some((f) => f.key === "created") ? { order: [{ field: "created", desc: true }] } : {}),
});

/** Where a list of records is worked in. */
export const listAt = (t: TypeInfo, b: Brief) =>
  `/records/${t.key}?list=all&as=${encodeURIComponent(JSON.stringify(difference(everything(t), b)))}`;
