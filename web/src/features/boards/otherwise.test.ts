import { expect, it } from "vitest";
import type { Filters } from "../../api/panels";
import { otherwise } from "./otherwise";

it("narrows a copy to other people, or to another period, and leaves the rest", () => {
  const was: Filters = { whose: { teams: ["1"] }, period: "this_quarter", fields: [] };
  expect(otherwise(was, "", "")).toEqual(was);
  expect(otherwise(was, "team 3", "")).toEqual({ ...was, whose: { teams: ["3"] } });
  expect(otherwise(was, "person 12", "last_year")).toEqual({ ...was, whose: { people: ["12"] }, period: "last_year" });
  expect(otherwise(was, "everyone", "")).toEqual({ period: "this_quarter", fields: [] });
});
