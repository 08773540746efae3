import { describe, expect, it } from "vitest";
import type { Brief, SchemaInfo } from "../../api/client";
import { filterOf, pathTo, underFilters } from "./filters";

const field = (key: string, kind: string, to?: string) => ({ key, label: key[0].toUpperCase() + key.slice(1), kind, to, operators: [] });
const type = (key: string, owner: string, fields: ReturnType<typeof field>[]) => ({
  key,
  label: key,
  one: key,
  name: "name",
  owner,
  backs: [],
  shown: [],
  fields,
});
const schema = {
  types: [
    type("deals", "owner", [
      field("customer", "link", "customers"),
      field("closed", "date"),
      field("stage", "choice"),
      field("owner", "link", "people"),
    ]),
    type("customers", "owner", [field("segment", "choice"), field("owner", "link", "people")]),
    type("lines", "", [field("deal", "link", "deals")]),
    type("people", "", [field("name", "text")]),
  ],
} as unknown as SchemaInfo;
const segment = { type: "customers", field: "segment", values: ["Marina"] };

describe("a board's filters", () => {
  it("finds the way to a field over links", () => {
    expect(pathTo(schema, "customers", "customers", "segment")).toBe("segment");
    expect(pathTo(schema, "deals", "customers", "segment")).toBe("customer.segment");
    expect(pathTo(schema, "lines", "customers", "segment")).toBe("deal.customer.segment");
    expect(pathTo(schema, "people", "customers", "segment")).toBeUndefined();
  });

  it("leaves a panel with a period of its own as it is", () => {
    const b: Brief = { version: 1, start: "deals", period: { field: "closed", within: "this_year" } };
    const got = underFilters(schema, b, { period: "last_month", whose: "mine" }, "this_week");
    expect(got.brief).toMatchObject({ period: { field: "closed", within: "this_week" }, whose: "mine" });
    expect(got.obeys).toEqual(["whose"]);
    expect(got.ignores).toEqual(["the period, having one of its own"]);
    const undated = underFilters(schema, { version: 1, start: "people" }, {}, "this_week");
    expect(undated.brief.period).toBeUndefined();
  });

  it("takes the place of a report's period and owner, and adds to its conditions", () => {
    const b: Brief = {
      version: 1,
      start: "deals",
      period: { field: "closed", within: "this_year" },
      filter: { field: "stage", is: "filled" },
    };
    const got = underFilters(schema, b, { period: "last_month", whose: "mine", fields: [segment] });
    expect(got.brief).toEqual({
      version: 1,
      start: "deals",
      period: { field: "closed", within: "last_month" },
      whose: "mine",
      filter: {
        all: [
          { field: "stage", is: "filled" },
          { field: "customer.segment", is: "any_of", values: ["Marina"] },
        ],
      },
    });
    expect(got.obeys).toEqual(["the period by closed", "whose", "segment"]);
    expect(got.ignores).toEqual([]);
    expect(b.period?.within).toBe("this_year");
  });

  it("says what a panel cannot obey", () => {
    const got = underFilters(schema, { version: 1, start: "people" }, { period: "today", whose: "mine", fields: [segment] });
    expect(got.brief).toEqual({ version: 1, start: "people" });
    expect(got.ignores).toHaveLength(3);
  });

  it("narrows each part on its own", () => {
    const b: Brief = {
      version: 1,
      parts: [
        { key: "a", start: "deals", period: { field: "closed", within: "today" } },
        { key: "b", start: "lines" },
      ],
    };
    const got = underFilters(schema, b, { period: "this_week", whose: "everyone" });
    expect(got.brief.parts?.[0].period?.within).toBe("this_week");
    expect(got.brief.parts?.[1]).toEqual({ key: "b", start: "lines" });
    expect(got.obeys).toEqual(["the period by closed"]);
  });

  it("makes a filter of a mark, but not of a date or of an empty group", () => {
    const b: Brief = { version: 1, start: "deals", groups: [{ field: "customer.segment" }] };
    expect(filterOf(schema, b, [{ rows: ["=Marina"], across: [] }])).toEqual(segment);
    expect(filterOf(schema, b, [{ rows: [""], across: [] }])).toBeUndefined();
    expect(
      filterOf(schema, b, [
        { rows: ["=Marina"], across: [] },
        { rows: ["=Harbour"], across: [] },
        { rows: ["=Marina"], across: [] },
      ])?.values,
    ).toEqual(["Marina", "Harbour"]);
    expect(
      filterOf(schema, b, [
        { rows: ["=Marina"], across: [] },
        { rows: [""], across: [] },
      ]),
    ).toBeUndefined();
    expect(filterOf(schema, { ...b, groups: [{ field: "closed", by: "month" }] }, [{ rows: ["=2026-05"], across: [] }])).toBeUndefined();
  });
});
