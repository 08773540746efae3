import { describe, expect, it } from "vitest";
import type { Brief } from "../../api/client";
import { asPlaced } from "./placed";

const byStage: Brief = {
  version: 1,
  start: "deals",
  groups: [{ field: "stage" }, { field: "owner" }],
  summaries: [
    { key: "n", fn: "count" },
    { key: "v", fn: "sum", of: "value" },
  ],
  chart: { kind: "funnel", values: ["v"], guides: "both", heading: "Stages" },
};

describe("a report as a panel shows it", () => {
  it("is as it was kept where the panel says nothing", () => {
    expect(asPlaced(byStage, {})).toBe(byStage);
    expect(asPlaced(byStage, { heading: "Mine", link: "/reports/2" })).toEqual(byStage);
  });

  it("wears another style without its own looks, but with its words and its kind", () => {
    expect(asPlaced(byStage, { style: "quiet", kind: "bar" }).chart).toEqual({
      kind: "bar",
      values: ["v"],
      heading: "Stages",
      style: "quiet",
    });
    expect(asPlaced({ version: 1, start: "deals", groups: [{ field: "stage" }] }, { style: "quiet" }).chart).toEqual({
      kind: "column",
      style: "quiet",
    });
  });

  it("shows its first groups, in another order, and leaves the inner ones", () => {
    expect(asPlaced(byStage, { items: 5, order: "smallest" }).groups).toEqual([
      { field: "stage", order: { by: "n", desc: false }, top: { n: 5, by: "n", from: "smallest" } },
      { field: "owner" },
    ]);
    expect(asPlaced(byStage, { order: "label" }).groups?.[0]).toEqual({ field: "stage", order: { by: "label" } });
    expect(asPlaced({ ...byStage, summaries: undefined }, { items: 3 }).groups?.[0].top).toEqual({ n: 3, by: "count", from: "largest" });
    const every = { ...byStage, groups: [{ field: "stage", every: true }] };
    expect(asPlaced(every, { items: 3 }).groups, "with every there is no top").toEqual(every.groups);
  });

  it("lists the records of a report that groups them", () => {
    const columns = [{ field: "name" }];
    expect(
      asPlaced({ ...byStage, columns, compare: "previous_period", totalsOnly: true }, { list: true, items: 20, order: "label" }),
    ).toEqual({
      version: 1,
      start: "deals",
      columns,
      limit: 20,
    });
    const parts = { version: 1, parts: [{ key: "a", start: "deals" }] } as Brief;
    expect(asPlaced(parts, { list: true }), "several record types have no one list").toEqual(parts);
  });

  it("shows the first records of a list, and no more than the report", () => {
    expect(asPlaced({ version: 1, start: "deals", limit: 50 }, { items: 10 }).limit).toBe(10);
    expect(asPlaced({ version: 1, start: "deals", limit: 5 }, { items: 10 }).limit).toBe(5);
  });
});
