import type { Drawing } from "../api/client";

/** What texts of a picture are written in. */
export const font = "Atkinson Hyperlegible Next Variable, sans-serif";

export const shown = (p: Drawing["series"][0]["points"][0], share: boolean, labels = "") => {
  if (labels === "none") return "";
  if (labels === "both") return p.share ? `${p.label} (${p.share})` : p.label;
  return share || labels === "shares" ? p.share || p.label : p.label;
};
