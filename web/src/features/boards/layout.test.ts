import { describe, expect, it } from "vitest";
import { nextPlace, nudge } from "./layout";

describe("layout", () => {
  it("puts panels side by side, then below", () => {
    const a = nextPlace([], 1);
    const b = nextPlace([a], 2);
    const c = nextPlace([a, b], 3);
    expect([a.x, a.y, b.x, b.y, c.x, c.y]).toEqual([0, 0, 6, 0, 0, a.h]);
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
