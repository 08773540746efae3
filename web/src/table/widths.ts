import type { ListPage } from "../api/client";

type Column = ListPage["columns"][0];

/** The room that texts need so that none of them is cut: about 8 px a character, and some at the sides. */
export const room = (texts: (string | undefined)[], least: number, most = 300) =>
  Math.min(most, Math.max(least, ...texts.map((t) => (t?.length ?? 0) * 8 + 22)));

const whole = ["number", "money", "percent", "date", "time"];

/** How wide each column is at least: numbers and dates as wide as they need, so that none is cut in the middle. */
export function leastWidths(columns: Column[], rows: ListPage["rows"]): number[] {
  return columns.map((c, i) => {
    if (c.width) return c.width;
    if (whole.includes(c.kind)) return room([...rows.slice(0, pageRows).map((r) => shownIn(r.cells[i])), c.label], 88);
    return i === 0 ? 160 : 112;
  });
}

/** What stands in a cell: an amount in another currency has what was recorded before it. */
const shownIn = (c: ListPage["rows"][0]["cells"][0] | undefined) => (c?.own ? `${c.own} ${c.text}` : c?.text);

const pageRows = 200;

/** The columns of a grid that is at least so wide; texts take what room is left. */
export const template = (columns: Column[], least: number[]) =>
  columns
    .map((c, i) =>
      c.width
        ? `${c.width}px`
        : whole.includes(c.kind)
          ? `minmax(${least[i]}px, 0.7fr)`
          : `minmax(${least[i]}px, ${i === 0 ? 1.6 : 1}fr)`,
    )
    .join(" ");

export const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
