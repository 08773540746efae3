import { describe, expect, it } from "vitest";
import { pagesOf } from "./pages";

const rows = (...heights: number[]) => {
  let y = 40;
  return heights.map((h) => {
    const p = { top: y, bottom: y + h };
    y += h + 10;
    return p;
  });
};

describe("the pages of a tall picture", () => {
  it("are one where all fits", () => expect(pagesOf(rows(100, 100), 300, 500)).toEqual([{ from: 0, to: 300 }]));

  it("are cut between panels", () => {
    expect(pagesOf(rows(200, 200, 200), 680, 500)).toEqual([
      { from: 0, to: 450 },
      { from: 450, to: 680 },
    ]);
  });

  it("are not cut where a panel beside goes on", () => {
    const beside = [...rows(200, 200), { top: 40, bottom: 300 }];
    expect(pagesOf(beside, 460, 400)).toEqual([
      { from: 0, to: 400 },
      { from: 400, to: 460 },
    ]);
  });

  it("are cut through a panel that is higher than a page, and hold all of it", () => {
    const pages = pagesOf([{ top: 0, bottom: 1200 }], 1250, 500);
    expect(pages.map((p) => p.to - p.from)).toEqual([500, 500, 250]);
    expect(pages[0].from).toBe(0);
    expect(pages.every((p, i) => i === 0 || p.from === pages[i - 1].to)).toBe(true);
  });
});
