import { describe, expect, it } from "vitest";
import type { Brief } from "../api/client";
import { editColumn, sortBy } from "../table/edits";
import {
  begin,
  conditionAt,
  dropCondition,
  dropGroup,
  freeKey,
  keyFor,
  moved,
  setCondition,
  setGroup,
  setSummaries,
  swapAxes,
  withoutPaths,
} from "./edits";

const open = { field: "status", is: "any_of", values: ["open"] };

describe("edits", () => {
  it("adds, changes and drops conditions in their order", () => {
    let b = setCondition(begin("deals"), -1, open);
    b = setCondition(b, -1, { field: "value", is: "over", values: ["20000"] });
    b = setCondition(b, 0, { field: "status", is: "any_of", values: ["won"] });
    expect(b.filter?.all?.map((t) => t.values?.[0])).toEqual(["won", "20000"]);
    b = dropCondition(dropCondition(b, 0), 0);
    expect(b.filter).toBeUndefined();
  });

  it("keeps a filter that is one condition alone when another joins it", () => {
    const b = setCondition({ ...begin("deals"), filter: open }, -1, { field: "value", is: "filled" });
    expect(b.filter).toEqual({ all: [open, { field: "value", is: "filled" }] });
  });

  it("finds the condition that a clause points at", () => {
    expect(conditionAt("/filter/all/3")).toBe(3);
    expect(conditionAt("/filter")).toBe(0);
    expect(conditionAt("/period")).toBe(-1);
  });

  it("draws from the first group on and not after the last has gone", () => {
    let b = setGroup(begin("deals"), "groups", 0, { field: "stage" });
    expect(b.chart?.kind).toBe("column");
    b = dropGroup(b, "groups", 0);
    expect(b.groups).toBeUndefined();
    expect(b.chart).toBeUndefined();
  });

  it("takes what goes by a dropped summary with it", () => {
    const b: Brief = {
      ...begin("deals"),
      summaries: [
        { key: "n", fn: "count" },
        { key: "total", fn: "sum", of: "value" },
      ],
      groups: [{ field: "owner", top: { n: 5, by: "total" }, order: { by: "label" } }],
      chart: { kind: "bar", values: ["total"] },
    };
    const next = setSummaries(b, [{ key: "n", fn: "count" }]);
    expect(next.groups).toEqual([{ field: "owner", order: { by: "label" } }]);
    expect(next.chart).toEqual({ kind: "bar" });
  });

  it("gives keys that are free and well formed", () => {
    expect(keyFor([], "sum", "customer.size")).toBe("sum_customer_size");
    expect(keyFor([{ key: "count", fn: "count" }], "count", undefined)).toBe("count_2");
  });

  it("sorts down, up, and then not at all", () => {
    let b = sortBy(begin("deals"), "value", true);
    expect(b.order).toEqual([{ field: "value", desc: true }]);
    b = sortBy(b, "value", true);
    expect(b.order).toEqual([{ field: "value" }]);
    expect(sortBy(b, "value", true).order).toBeUndefined();
    expect(sortBy(b, "name", false).order).toEqual([{ field: "name" }]);
  });

  it("moves, sizes and removes a column of the list, also where the brief names none", () => {
    const shown = ["name", "stage", "value"].map((field) => ({ field })) as Parameters<typeof editColumn>[1];
    const b = begin("deals");
    expect(editColumn(b, shown, 0, { move: 1 }).columns?.map((c) => c.field)).toEqual(["stage", "name", "value"]);
    expect(editColumn(b, shown, 0, { move: -1 }), "no further than the edge").toBe(b);
    expect(editColumn(b, shown, 1, { remove: true }).columns?.map((c) => c.field)).toEqual(["name", "value"]);
    const named = { ...b, columns: [{ field: "value", label: "Worth", format: { decimals: 0 } }] };
    expect(editColumn(named, [], 0, { width: 200 }).columns).toEqual([
      { field: "value", label: "Worth", format: { decimals: 0, width: 200 } },
    ]);
  });

  it("moves within a list and no further", () => {
    expect(moved(["a", "b", "c"], 0, 2)).toEqual(["b", "c", "a"]);
    expect(moved(["a"], 0, 1)).toEqual(["a"]);
  });

  it("swaps rows and columns without losing a group", () => {
    const b = swapAxes({
      ...begin("deals"),
      groups: ["a", "b", "c"].map((field) => ({ field })),
      across: [{ field: "x" }],
    });
    expect([b.groups?.map((g) => g.field), b.across?.map((g) => g.field)]).toEqual([
      ["x", "c"],
      ["a", "b"],
    ]);
    expect(swapAxes({ ...begin("deals"), across: [{ field: "x" }] })).toEqual({
      ...begin("deals"),
      groups: [{ field: "x" }],
    });
  });

  it("takes out what read something that is gone, wherever it stands", () => {
    const b = withoutPaths(
      {
        ...begin("deals"),
        columns: [{ field: "lines.amount" }, { field: "name" }],
        order: [{ field: "lines.amount" }],
        groups: [{ field: "stage", top: { n: 3, by: "s" } }, { field: "lines.product" }],
        summaries: [
          { key: "n", fn: "count" },
          { key: "s", fn: "sum", of: "lines.amount" },
        ],
        filter: {
          all: [
            open,
            { any: [{ field: "lines.quantity", is: "filled" }] },
            { not: { field: "lines.amount", is: "empty" } },
          ],
        },
        chart: { kind: "bar", values: ["s"] },
      },
      (path) => path.startsWith("lines"),
    );
    expect(b.columns).toEqual([{ field: "name" }]);
    expect(b.order).toBeUndefined();
    expect(b.groups).toEqual([{ field: "stage" }]);
    expect(b.summaries).toEqual([{ key: "n", fn: "count" }]);
    expect(b.filter).toEqual({ all: [open, { any: [] }] });
    expect(b.chart).toEqual({ kind: "bar" });
  });

  it("makes keys that the format takes", () => {
    expect(freeKey("Age in days!", ["age_in_days_"])).toBe("age_in_days__2");
    expect(freeKey("2nd", [])).toBe("nd");
    expect(freeKey("label", ["label_1"])).toBe("label_1_2");
    expect(freeKey("%", [])).toBe("field");
  });
});
