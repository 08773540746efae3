import type { Panel } from "../../api/client";

export const columns = 12;

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

/** Moves or resizes a panel by keys, within the grid. */
export function nudge(p: Panel, key: string, resize: boolean): Panel {
  const dx = key === "ArrowRight" ? 1 : key === "ArrowLeft" ? -1 : 0;
  const dy = key === "ArrowDown" ? 1 : key === "ArrowUp" ? -1 : 0;
  if (resize) return { ...p, w: Math.min(columns - p.x, Math.max(2, p.w + dx)), h: Math.max(3, p.h + dy) };
  return { ...p, x: Math.min(columns - p.w, Math.max(0, p.x + dx)), y: Math.max(0, p.y + dy) };
}
