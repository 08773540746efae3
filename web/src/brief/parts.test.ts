import { describe, expect, it } from "vitest";
import type { Brief, SchemaInfo } from "../api/client";
import { beside, partOf, putPart, withoutPart } from "./parts";

const field = (key: string, label: string, kind: string, to?: string) => ({ key, label, kind, to, operators: [] });
const schema = {
  types: [
    {
      key: "deals",
      label: "Deals",
      owner: "owner",
      backs: [],
      fields: [
        field("owner", "Owner", "link", "people"),
        field("closed", "Closed", "date"),
        field("stage", "Stage", "choice"),
      ],
    },
    {
      key: "activities",
      label: "Activities",
      owner: "who",
      backs: [],
      fields: [
        field("created", "Created", "time"),
        field("happens", "Happens", "time"),
        field("seller", "Seller", "link", "people"),
        field("who", "Who", "link", "people"),
      ],
    },
    { key: "people", label: "People", owner: "", backs: [], fields: [field("name", "Name", "text")] },
  ],
} as unknown as SchemaInfo;

const won: Brief = {
  version: 1,
  start: "deals",
  period: { field: "closed", within: "this_year" },
  columns: [{ field: "stage" }],
  order: [{ field: "closed" }],
  limit: 5,
  groups: [{ field: "owner" }, { field: "closed", by: "month" }, { field: "stage" }],
  summaries: [{ key: "v", fn: "count" }],
  chart: { kind: "funnel", values: ["v"] },
};

describe("record types side by side", () => {
  it("sets another beside, its groups by the fields that stand for the same", () => {
    const b = beside(schema, won, "activities");
    expect(b.start).toBeUndefined();
    expect(b.parts).toEqual([
      { key: "deals", start: "deals", period: won.period, summaries: won.summaries },
      { key: "activities", start: "activities", summaries: [{ key: "activities_count", fn: "count" }] },
    ]);
    // The owner for a person, a date of its own for a date; nothing for the stage.
    expect(b.groups).toEqual([
      { label: "Owner", paths: { deals: "owner", activities: "who" } },
      { by: "month", label: "Closed", paths: { deals: "closed", activities: "happens" } },
    ]);
    expect([b.columns, b.order, b.limit, b.period]).toEqual([undefined, undefined, undefined, undefined]);
    expect(b.chart).toEqual({ kind: "bar" });
    expect(won.parts).toBeUndefined();
  });

  it("gives a second of the same record type a key of its own", () => {
    const twice = beside(schema, beside(schema, won, "deals"), "deals");
    expect(twice.parts?.map((p) => p.key)).toEqual(["deals", "deals_2", "deals_3"]);
    const keys = twice.parts?.flatMap((p) => p.summaries?.map((s) => s.key) ?? []) ?? [];
    expect(new Set(keys).size).toBe(keys.length);
  });

  it("counts what had no summary of its own", () => {
    const b = beside(schema, { version: 1, start: "deals" }, "people");
    expect(b.parts?.[0].summaries).toEqual([{ key: "count", fn: "count" }]);
    expect(b.groups).toBeUndefined();
  });

  it("edits one part as a report of its own", () => {
    const b = beside(schema, won, "activities");
    const part = partOf(b, 1);
    expect(part).toEqual({ version: 1, start: "activities", summaries: [{ key: "activities_count", fn: "count" }] });
    const next = putPart(b, 1, { ...part, whose: "mine" });
    expect(next.parts?.[1]).toEqual({
      key: "activities",
      start: "activities",
      whose: "mine",
      summaries: part.summaries,
    });
    expect(next.parts?.[0]).toBe(b.parts?.[0]);
  });

  it("is a report over one record type again when the other is taken out", () => {
    const back = withoutPart(beside(schema, won, "activities"), 1);
    expect(back.parts).toBeUndefined();
    expect(back.start).toBe("deals");
    expect(back.period).toEqual(won.period);
    expect(back.groups).toEqual([{ field: "owner" }, { by: "month", field: "closed" }]);
    const three = beside(schema, beside(schema, won, "activities"), "people");
    const two = withoutPart(three, 0);
    expect(two.parts?.map((p) => p.key)).toEqual(["activities", "people"]);
    for (const g of two.groups ?? []) expect(Object.keys(g.paths ?? {})).not.toContain("deals");
  });
});
