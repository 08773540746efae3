import { afterEach, expect, test } from "vitest";
import { count, day, moment, writeFiguresAs } from "./figures";

afterEach(() => writeFiguresAs("en", "words"));

test("counts and days are written as the organisation has them", () => {
  const at = new Date(2026, 4, 4, 9, 5).getTime() / 1000;
  expect([count(1234567), day(at), moment(at)]).toEqual(["1,234,567", "4 May 2026", "4 May 2026, 09:05"]);
  writeFiguresAs("de", "dots");
  expect([count(1234567), day(at)]).toEqual(["1.234.567", "04.05.2026"]);
  writeFiguresAs("nl", "slashes");
  expect(day(at)).toBe("04/05/2026");
  writeFiguresAs("nl", "iso");
  expect(moment(at)).toBe("2026-05-04, 09:05");
});
