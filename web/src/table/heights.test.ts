import { describe, expect, it } from "vitest";
import { standing } from "./heights";
import { type GroupLine, listOnly, outline } from "./outline";

const heights = { group: 34, record: 30 };

describe("where lines stand", () => {
  it("is what adding up the heights of the lines before gives, and a height leads back to its line", () => {
    const group = (key: string): GroupLine => ({ label: key, depth: 1, inner: true, keys: [key], cells: [] });
    for (const counts of [[], [0], [3], [0, 0, 2], [1, 0, 4, 0], [2, 7, 1, 1, 0, 3]]) {
      const places = new Map(counts.map((count, i) => [`${i}`, { keys: [`${i}`], first: 0, count }]));
      const { list, count } = outline(
        counts.map((_, i) => group(`${i}`)),
        places,
        () => false,
      );
      const lines = standing(list, count, heights);
      const each = counts.flatMap((n) => [34, ...Array<number>(n).fill(30)]);
      let y = 0;
      for (const [i, h] of each.entries()) {
        expect([lines.top(i), lines.line(y), lines.line(y + h - 1)], `${counts} at ${i}`).toEqual([y, i, i]);
        y += h;
      }
      expect([lines.height, lines.top(each.length), count]).toEqual([y, y, each.length]);
      expect([lines.line(-50), lines.line(y + 50)]).toEqual([0, Math.max(0, each.length - 1)]);
    }
  });

  it("of ten million records is known at once", () => {
    const { list, count } = listOnly(10_000_000);
    const lines = standing(list, count, heights);
    expect([lines.height, lines.top(9_999_999), lines.line(299_999_980)]).toEqual([3e8, 299_999_970, 9_999_999]);
  });
});
