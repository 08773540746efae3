import { describe, expect, it } from "vitest";
import { type GroupLine, lineAt, outline } from "./outline";

const line = (label: string, depth: number, inner = depth === 2): GroupLine => ({
  label,
  depth,
  inner,
  keys: depth === 2 ? ["=a", `=${label}`] : depth ? [`=${label}`] : [],
  cells: [],
});
const lines = [line("a", 1), line("x", 2), line("y", 2), line("All", 0)];
const places = new Map([
  ["=a\n=x", { keys: ["=a", "=x"], first: 0, count: 2 }],
  ["=a\n=y", { keys: ["=a", "=y"], first: 2, count: 3 }],
]);
const said = (closed: string[]) => {
  const { list, count } = outline(lines, places, (k) => closed.includes(k));
  return Array.from({ length: count }, (_, i) => {
    const at = lineAt(list, i);
    return at?.group ? at.group.label : at?.record;
  });
};

describe("the lines of groups and records", () => {
  it("are each group with its records under it, the total last", () => {
    expect(said([])).toEqual(["a", "x", 0, 1, "y", 2, 3, 4, "All"]);
  });
  it("leave out what is in a closed group; its records keep their places", () => {
    expect(said(["=a\n=x"])).toEqual(["a", "x", "y", 2, 3, 4, "All"]);
    expect(said(["=a"])).toEqual(["a", "All"]);
  });
  it("are groups alone where no records are shown, and end where they end", () => {
    const { list, count } = outline(lines, undefined, () => false);
    expect(count).toBe(4);
    expect(lineAt(list, 4)).toBeUndefined();
    expect(lineAt([], 0)).toBeUndefined();
  });
});
