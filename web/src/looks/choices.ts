/** Looks that a chart, a kept style and the house style choose among: the member, its name, and its values; "" is as it comes. */
export const looks = [
  ["legend", "Legend", { "": "top", right: "right", below: "below", left: "left", none: "none" }],
  ["guides", "Guides", { "": "along values", both: "along both", stripes: "stripes", none: "none" }],
  ["labels", "Labels", { "": "as they fit", values: "values", shares: "shares", both: "both", none: "none" }],
  ["totals", "Total", { "": "not said", total: "total", records: "how many records", both: "both" }],
  ["on", "Background", { "": "as the reader has it", paper: "paper", ink: "ink" }],
] as const;
