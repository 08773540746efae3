import type { Tree } from "../api/client";
import { type Found, isDated } from "../fields/fields";

/** A condition on a field as it begins: how such a field is most often narrowed. */
export function blank(f: Found): Tree {
  const listed =
    f.field.kind === "choice" || f.field.kind === "link" || f.field.kind === "yesno" || f.field.kind === "id";
  const is = listed ? "any_of" : f.field.kind === "text" ? "contains" : isDated(f.field.kind) ? "within" : "at_least";
  return { field: f.path, is };
}

/** Whether a condition says enough to be answered. */
export function whole(t: Tree): boolean {
  if (t.all) return t.all.every(whole);
  if (t.any) return t.any.every(whole);
  if (t.not) return whole(t.not);
  if (t.link) return !t.where || whole(t.where);
  if (t.is === "empty" || t.is === "filled" || t.other) return true;
  if (t.is === "within") return t.period !== undefined;
  const vals = (t.values ?? []).filter((v) => v !== "");
  return t.is === "between" ? vals.length === 2 : vals.length > 0;
}
