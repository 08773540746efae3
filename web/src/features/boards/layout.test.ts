import { describe, expect, it } from "vitest";
import { nextPlace, nudge, tidied } from "./layout";

describe("layout", () => {
  it("puts panels side by side, then below", () => {
    const a = nextPlace([], 1);
    const b = nextPlace([a], 2);
    const c = nextPlace([a, b], 3);
    expect([a.x, a.y, b.x, b.y, c.x, c.y]).toEqual([0, 0, 6, 0, 0, a.h]);
  });

  it("tidies into filled rows of equal height, in reading order", () => {
    const at = (report: number, x: number, y: number, w: number, h: number) => ({ report, x, y, w, h });
    const got = tidied([at(3, 0, 20, 4, 5), at(1, 0, 0, 5, 9), at(2, 6, 1, 5, 4)]);
    expect(got).toEqual([at(3, 0, 9, 12, 5), at(1, 0, 0, 6, 9), at(2, 6, 0, 6, 9)]);
    expect(tidied(got)).toEqual(got);
    expect(tidied([])).toEqual([]);
  });

  it("moves a panel with every press of a key, past the one that stands there, and says where it went", () => {
    const left = { report: 1, x: 0, y: 0, w: 5, h: 4 };
    const right = { report: 2, x: 5, y: 0, w: 7, h: 4 };
    const below = { report: 3, x: 0, y: 4, w: 12, h: 6 };
    const all = [left, right, below];
    const places = (r: { panels: typeof all }) => r.panels.map((p) => [p.x, p.y]);
    expect(places(nudge(all, 0, "ArrowRight", false)), "they change places").toEqual([
      [7, 0],
      [0, 0],
      [0, 4],
    ]);
    expect(places(nudge(all, 0, "ArrowDown", false))[0], "past the panel below, not by a row").toEqual([0, 6]);
    expect(places(nudge(all, 0, "ArrowDown", false))[2]).toEqual([0, 0]);
    expect(places(nudge(all, 2, "ArrowUp", false))[2]).toEqual([0, 0]);
    expect(nudge(all, 1, "ArrowRight", false)).toEqual({ panels: all, said: "It stands at the right edge" });
    expect(nudge(all, 2, "ArrowDown", false)).toEqual({ panels: all, said: "It is the lowest already" });
    expect(places(nudge([right], 0, "ArrowLeft", false)), "where nothing stands, by a column").toEqual([[4, 0]]);
    expect(nudge(all, 0, "ArrowRight", true).panels[0].w).toBe(6);
    expect(nudge([{ ...left, w: 2 }], 0, "ArrowLeft", true).said).toBe("No further");
  });
});
