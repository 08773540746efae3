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

const meet = (a: number, la: number, b: number, lb: number) => a < b + lb && b < a + la;

/**
 * Moves or resizes one of several panels by a key, so that each press does something: sideways by a column, or past the
 * panel that stands there; up and down past the next panel. Gives what there is then, and says where the panel went.
 */
export function nudge(panels: Panel[], at: number, key: string, resize: boolean): { panels: Panel[]; said: string } {
  const p = panels[at];
  const dx = key === "ArrowRight" ? 1 : key === "ArrowLeft" ? -1 : 0;
  const dy = key === "ArrowDown" ? 1 : key === "ArrowUp" ? -1 : 0;
  const placed = (changes: Record<number, Partial<Panel>>) =>
    panels.map((x, i) => (changes[i] ? { ...x, ...changes[i] } : x));
  if (resize) {
    const w = Math.min(columns - p.x, Math.max(2, p.w + dx));
    const h = Math.max(3, p.h + dy);
    const same = w === p.w && h === p.h;
    return {
      panels: same ? panels : placed({ [at]: { w, h } }),
      said: same ? "No further" : `${w} of ${columns} columns wide, ${h} rows high`,
    };
  }
  if (dx) {
    const side = panels.findIndex(
      (q, i) => i !== at && meet(q.y, q.h, p.y, p.h) && (dx > 0 ? q.x === p.x + p.w : q.x + q.w === p.x),
    );
    const q = panels[side];
    const x = q ? (dx > 0 ? p.x + q.w : q.x) : p.x + dx;
    if (x < 0 || x + p.w > columns)
      return { panels, said: dx > 0 ? "It stands at the right edge" : "It stands at the left edge" };
    return {
      panels: placed({ [at]: { x }, ...(q ? { [side]: { x: dx > 0 ? p.x : q.x + p.w } } : {}) }),
      said: `At column ${x + 1} of ${columns}`,
    };
  }
  const column = panels
    .map((q, i) => ({ q, i }))
    .filter(({ q, i }) => i !== at && meet(q.x, q.w, p.x, p.w) && (dy > 0 ? q.y >= p.y + p.h : q.y + q.h <= p.y))
    .sort((a, b) => (dy > 0 ? a.q.y - b.q.y : b.q.y + b.q.h - a.q.y - a.q.h));
  const next = column[0];
  if (!next) return { panels, said: dy > 0 ? "It is the lowest already" : "It is at the top already" };
  const changes: Record<number, Partial<Panel>> = dy > 0
    ? { [at]: { y: p.y + next.q.h }, [next.i]: { y: p.y } }
    : { [at]: { y: next.q.y }, [next.i]: { y: next.q.y + p.h } };
  const count = column.length;
  return {
    panels: placed(changes),
    said: `${dy > 0 ? "Below" : "Above"} the next panel; ${count - 1} more ${dy > 0 ? "below" : "above"}`,
  };
}
