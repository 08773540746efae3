import { expect, it } from "vitest";
import { allChosen, countChosen, isChosen, led, noneChosen, turned, withChosen } from "./work";

it("chooses records one by one, and all but some", () => {
  const some = turned(turned(noneChosen, "3"), "5");
  expect([isChosen(some, "3"), isChosen(some, "4"), countChosen(some, 100)]).toEqual([true, false, 2]);
  expect(countChosen(turned(some, "3"), 100)).toBe(1);
  const but = turned(allChosen, "3");
  expect([isChosen(but, "3"), isChosen(but, "4"), countChosen(but, 100)]).toEqual([false, true, 99]);
  expect(countChosen(withChosen(but, ["2", "3"]), 100)).toBe(100);
  expect(countChosen(withChosen(some, ["5", "6"]), 100)).toBe(3);
});

it("goes from cell to cell, and no further than there are any", () => {
  const at = { row: 0, column: 1 };
  expect(led("ArrowDown", at, 3, 2)).toEqual({ row: 1, column: 1 });
  expect(led("ArrowUp", at, 3, 2)).toEqual(at);
  expect(led("PageDown", at, 3, 2)).toEqual({ row: 2, column: 1 });
  expect(led("ArrowRight", at, 3, 2)).toEqual(at);
  expect(led("Home", at, 3, 2)).toEqual({ row: 0, column: 0 });
  expect(led("End", { row: 2, column: 0 }, 3, 2)).toEqual({ row: 2, column: 1 });
  expect(led("x", at, 3, 2)).toBeUndefined();
});
