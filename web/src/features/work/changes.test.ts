import { expect, it } from "vitest";
import type { TypeInfo } from "../../api/client";
import { changesOf } from "./changes";

it("lists what changed with a field, and nothing that the program keeps itself", () => {
  const type = {
    fields: [
      { key: "stage", written: true },
      { key: "closed", written: true },
      { key: "source", written: true },
      { key: "changed" },
    ],
  } as TypeInfo;
  expect(
    changesOf(
      type,
      7,
      { stage: "Design", changed: "a", source: "Tender" },
      { stage: "Ordered", closed: "2026-05-14", changed: "b", source: "Tender" },
    ),
  ).toEqual([
    { id: 7, field: "stage", from: "Design", to: "Ordered" },
    { id: 7, field: "closed", from: "", to: "2026-05-14" },
  ]);
});
