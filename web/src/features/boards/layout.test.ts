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

  it("keeps panels inside the grid when they are moved and resized by keys", () => {
    const p = { report: 1, x: 6, y: 0, w: 6, h: 4 };
    expect(nudge(p, "ArrowRight", false).x).toBe(6);
    expect(nudge(p, "ArrowLeft", false).x).toBe(5);
    expect(nudge(p, "ArrowUp", false).y).toBe(0);
    expect(nudge(p, "ArrowRight", true).w).toBe(6);
    expect(nudge({ ...p, w: 2 }, "ArrowLeft", true).w).toBe(2);
    expect(nudge(p, "ArrowDown", true).h).toBe(5);
  });
});
