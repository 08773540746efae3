import { expect, it } from "vitest";
import { cellsOf } from "./cells";

it("reads a block as a spreadsheet copies it", () => {
  expect(cellsOf("a\tb\r\nc\td\r\n")).toEqual([
    ["a", "b"],
    ["c", "d"],
  ]);
  expect(cellsOf("one")).toEqual([["one"]]);
  expect(cellsOf("a\t\tc")).toEqual([["a", "", "c"]]);
  expect(cellsOf('"two\nlines, ""said"""\tb')).toEqual([['two\nlines, "said"', "b"]]);
  expect(cellsOf('12" pipe\tb')).toEqual([['12" pipe', "b"]]);
  expect(cellsOf('"never closed\tb')).toEqual([['"never closed', "b"]]);
});
