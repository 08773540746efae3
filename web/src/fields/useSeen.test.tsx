import { screen } from "@testing-library/react";
import { expect, it } from "vitest";
import type { Brief, SchemaInfo } from "../api/client";
import { field, recordType, serving, show } from "../testing";
import { fieldAt } from "./fields";
import { useSeen } from "./useSeen";

const deals = recordType("deals", "Deals", "deal", [field("name", "Name", "text", [])], {});
const schema = { types: [deals] } as unknown as SchemaInfo;

const Seen = ({ brief }: { brief: Brief }) =>
  fieldAt(useSeen(schema, brief), "deals", "own.calls")?.label ?? "not seen";

it("sees a report's own fields and what it brings once the server has said which those are", async () => {
  const door = { ...field("own", "Own", "link", [], "~own"), worked: { as: "door", of: [] } };
  const asked = serving({
    "POST /api/seen": () => [
      { ...deals, fields: [...deals.fields, door] },
      recordType("~own", "Own fields", "own field", [field("calls", "Calls", "number", ["at_least"])], {}),
    ],
  });
  const own = [{ key: "calls", label: "Calls", linked: { link: "activities", fn: "count" as const } }];
  const { rerender } = show(<Seen brief={{ version: 1, start: "deals" }} />);
  expect([screen.queryByText("not seen") !== null, asked.length], "nothing is asked for a report without any").toEqual([
    true,
    0,
  ]);
  rerender(<Seen brief={{ version: 1, start: "deals", own }} />);
  expect(await screen.findByText("Own › Calls")).toBeTruthy();
  rerender(<Seen brief={{ version: 1, start: "deals" }} />);
  expect(await screen.findByText("not seen")).toBeTruthy();
});
