import { describe, expect, it } from "vitest";
import type { Brief, Report } from "../api/client";
import { changedBy, difference, fromAddress, held } from "./reading";

const was: Brief = { version: 1, start: "deals", whose: "mine", groups: [{ field: "stage" }], totalsOnly: true };

describe("a reading in an address", () => {
  it("is what differs alone, and gives the reading back", () => {
    const now: Brief = { version: 1, start: "deals", groups: [{ field: "stage" }], totalsOnly: true, limit: 5 };
    const carried = difference(was, now);
    expect(carried).toEqual({ whose: null, limit: 5 });
    expect(changedBy(was, fromAddress(JSON.stringify(carried)))).toEqual(now);
    expect(difference(was, { ...was })).toEqual({});
    expect(changedBy(was, undefined)).toEqual(was);
  });

  it("is left out where it cannot be read", () => {
    expect(fromAddress("{")).toBeUndefined();
    expect(fromAddress(null)).toBeUndefined();
  });

  it("holds to what the report's owner fixed, and to no other report", () => {
    const fixed = { brief: { ...was, reading: 7 } } as unknown as Report;
    expect(held({ ...was, reading: 3 }, fixed).reading).toBe(7);
    expect(held({ ...was, reading: 3 }, undefined)).toEqual(was);
  });
});
