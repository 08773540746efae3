import type { Tree } from "../../api/client";
import { type Found, isDated } from "./fields";

/** A condition on a field as it begins: how such a field is most often narrowed. */
export function blank(f: Found): Tree {
  const listed = f.field.kind === "choice" || f.field.kind === "link" || f.field.kind === "yesno" || f.field.kind === "id";
  const is = listed ? "any_of" : f.field.kind === "text" ? "contains" : isDated(f.field.kind) ? "within" : "at_least";
  return { field: f.path, is };
}

/**
 * A number as it is typed, "€1,250.50", "50k", "1.2 million" or "30 %", in plain digits; nothing where it reads as none. A comma parts
 * thousands: what follows another one is no number, so that "12,5" is not taken for 125.
 */
export function plainNumber(text: string, kind: string): string | undefined {
  const typed = text.replace(/[\s€$£%]/g, "").toLowerCase();
  const said = /^(-?(?:\d+|\d{1,3}(?:,\d{3})+)(?:\.\d+)?)(k|thousand|m|million|mn|mio)?$/.exec(typed);
  if (!said) return undefined;
  const plain = larger(said[1].replaceAll(",", ""), said[2] ? (said[2][0] === "m" ? 6 : 3) : 0);
  return kind === "money" && !/^-?\d+(\.\d{1,2})?$/.test(plain) ? undefined : plain;
}

/** A plain number with its point moved to the right: "1.25" by three is "1250". */
function larger(plain: string, places: number): string {
  if (places === 0) return plain;
  const [whole, cut = ""] = plain.split(".");
  const moved = whole + cut.padEnd(places, "0").slice(0, places);
  const rest = cut.slice(places);
  return moved.replace(/^(-?)0+(?=\d)/, "$1") + (rest ? `.${rest}` : "");
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
