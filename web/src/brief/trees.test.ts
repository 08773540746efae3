import { describe, expect, it } from "vitest";
import type { SchemaInfo } from "../api/client";
import { plainNumber } from "../fields/amounts";
import type { Found } from "../fields/fields";
import { shortcuts } from "../fields/shortcuts";
import { blank, whole } from "./trees";

const found = (kind: string) =>
  ({ path: "x", label: "X", group: "", field: { key: "x", label: "X", kind, operators: [] } }) as unknown as Found;

describe("conditions as they begin", () => {
  it("begins as such a field is most often narrowed", () => {
    expect(
      ["choice", "link", "yesno", "id", "text", "date", "time", "money", "number"].map((k) => blank(found(k)).is),
    ).toEqual(["any_of", "any_of", "any_of", "any_of", "contains", "within", "within", "at_least", "at_least"]);
  });

  it("reads a typed number as it is meant, or not at all", () => {
    const read = (kind: string, ...texts: string[]) => texts.map((t) => plainNumber(t, kind));
    expect(read("money", "20000", "€1,250.50", " 1 250 ", "-7", "1,234,567", "0.5")).toEqual([
      "20000",
      "1250.50",
      "1250",
      "-7",
      "1234567",
      "0.5",
    ]);
    expect(read("money", "", "12,5", "1250,50", "1,25,000", "1.005", "1.", ".5", "twenty", "1e3")).toEqual(
      Array(9).fill(undefined),
    );
    expect(read("percent", "30 %", "12.345")).toEqual(["30", "12.345"]);
  });

  it("is answered only when it says enough", () => {
    expect(whole({ field: "x", is: "any_of" })).toBe(false);
    expect(whole({ field: "x", is: "any_of", values: [""] })).toBe(false);
    expect(whole({ field: "x", is: "any_of", values: ["a"] })).toBe(true);
    expect(whole({ field: "x", is: "between", values: ["1"] })).toBe(false);
    expect(whole({ field: "x", is: "between", values: ["1", "2"] })).toBe(true);
    expect(whole({ field: "x", is: "within" })).toBe(false);
    expect(whole({ field: "x", is: "within", period: "today" })).toBe(true);
    expect(whole({ field: "x", is: "empty" })).toBe(true);
    expect(whole({ field: "x", is: "over", other: "y" })).toBe(true);
    expect(whole({ link: "deals", is: "none" })).toBe(true);
    expect(whole({ link: "deals", is: "none", where: { field: "x", is: "any_of" } })).toBe(false);
    expect(whole({ all: [{ field: "x", is: "filled" }, { any: [{ not: { field: "x", is: "any_of" } }] }] })).toBe(
      false,
    );
    expect(whole({ all: [] })).toBe(true);
  });
});

describe("shortcuts", () => {
  const type = (key: string, fields: string[], backs: string[]) => ({
    key,
    fields: fields.map((f) => ({ key: f })),
    backs: backs.map((b) => ({ key: b })),
  });
  it("offers only those whose fields and links are there", () => {
    const schema = {
      types: [type("deals", ["status"], []), type("customers", ["name"], ["deals"]), type("boats", [], [])],
    } as unknown as SchemaInfo;
    expect(shortcuts(schema, "deals").map((s) => s.label)).toEqual(["Open", "Won", "Lost"]);
    expect(shortcuts(schema, "customers").map((s) => s.label)).toEqual(["Without a deal"]);
    expect(shortcuts(schema, "boats")).toEqual([]);
  });
});

describe("amounts as people type them", () => {
  it("are thousands and millions in words and letters, exactly", () => {
    expect(
      ["50k", "1.2 million", "€12m", "12 thousand", "1.234567m", "0.5k"].map((t) => plainNumber(t, "money")),
    ).toEqual(["50000", "1200000", "12000000", "12000", "1234567", "500"]);
    expect(["12,5", "k", "1.2345k euro", "fifty"].map((t) => plainNumber(t, "money"))).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
  });
});
