import type { Panel } from "../../api/client";

export const columns = 12;

/** How many panels a board takes at most, as the server has it. */
export const mostPanels = 60;

/** The first free place for a new panel of a report: beside the last where there is room, else below all. */
export function nextPlace(panels: Panel[], report: number): Panel {
  const size = { w: 6, h: 9 };
  const bottom = panels.reduce((y, p) => Math.max(y, p.y + p.h), 0);
  for (let y = 0; y < bottom; y++) {
    for (const x of [0, 6]) {
      const clash = panels.some((p) => x < p.x + p.w && p.x < x + size.w && y < p.y + p.h && p.y < y + size.h);
      if (!clash && panels.some((p) => p.y === y)) return { report, x, y, ...size };
    }
  }
  return { report, x: 0, y: bottom, ...size };
}

/**
 * Panels in rows, in their reading order and their widths: those beside each other are equally high, a row that has room
 * left is filled, and nothing stands between rows.
 */
export function tidied(panels: Panel[]): Panel[] {
  const order = panels.map((p, i) => ({ p, i })).sort((a, b) => a.p.y - b.p.y || a.p.x - b.p.x);
  const rows: { p: Panel; i: number }[][] = [];
  let used = columns;
  for (const one of order) {
    if (used + one.p.w > columns) {
      rows.push([]);
      used = 0;
    }
    rows[rows.length - 1].push(one);
    used += one.p.w;
  }
  const out: Panel[] = [...panels];
  let y = 0;
  for (const row of rows) {
    const h = Math.max(...row.map(({ p }) => p.h));
    const wide = row.reduce((n, { p }) => n + p.w, 0);
    let x = 0;
    row.forEach(({ p, i }, k) => {
      const w = k === row.length - 1 ? columns - x : Math.floor((p.w * columns) / wide);
      out[i] = { ...p, x, y, w, h };
      x += w;
    });
    y += h;
  }
  return out;
}

/** Moves or resizes a panel by keys, within the grid. */
export function nudge(p: Panel, key: string, resize: boolean): Panel {
  const dx = key === "ArrowRight" ? 1 : key === "ArrowLeft" ? -1 : 0;
  const dy = key === "ArrowDown" ? 1 : key === "ArrowUp" ? -1 : 0;
  if (resize) return { ...p, w: Math.min(columns - p.x, Math.max(2, p.w + dx)), h: Math.max(3, p.h + dy) };
  return { ...p, x: Math.min(columns - p.w, Math.max(0, p.x + dx)), y: Math.max(0, p.y + dy) };
}
