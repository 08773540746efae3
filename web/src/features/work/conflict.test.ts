import { describe, expect, it } from "vitest";
import { field } from "../../testing";
import { asEdited, merged, theirs, written } from "./conflict";

const fields = ["name", "value", "stage", "notes"].map((k) => field(k, k, "text"));
const was = { name: "Jetty", value: "10.00", stage: "Enquiry" };

describe("what two people change", () => {
  it("has times as the controls have them, so that none is sent that nobody changed", () => {
    const timed = [field("happens", "Date", "time"), field("notes", "Notes", "text")];
    const kept = { happens: "2026-05-14T09:30:00+01:00", notes: "at 09:30:00+01:00" };
    expect(asEdited(timed, kept)).toEqual({ happens: "2026-05-14T09:30", notes: kept.notes });
    expect(asEdited(timed, { happens: "2026-05-14T09:30:07Z" })).toEqual({ happens: "2026-05-14T09:30:07" });
  });

  it("sends the fields alone that are other than they were, emptied ones too", () => {
    expect(written(fields, was, { name: "Jetty", value: "", stage: "Design", notes: "" })).toEqual({
      value: "",
      stage: "Design",
    });
  });

  it("says which fields someone else changed, and which both did, not where both wrote the same", () => {
    const now = { name: "Jetty two", value: "20.00", stage: "Design" };
    const mine = { name: "Jetty", value: "30", stage: "Design", notes: "Mine" };
    expect(theirs(fields, was, now, mine).map((c) => [c.field.key, c.both])).toEqual([
      ["name", false],
      ["value", true],
      ["stage", false],
    ]);
  });

  it("keeps one's own fields, takes theirs, and of those that both changed what is chosen", () => {
    const now = { name: "Jetty two", stage: "Enquiry" };
    const mine = { name: "Pier", value: "30", stage: "Enquiry", notes: "Mine" };
    expect(merged(fields, was, now, mine, new Set(["value"]))).toEqual({
      name: "Jetty two",
      value: "30",
      stage: "Enquiry",
      notes: "Mine",
    });
    expect(merged(fields, was, now, mine, new Set(["name"])).value, "they emptied it").toBe("");
  });
});
