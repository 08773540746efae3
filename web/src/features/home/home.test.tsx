import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import type { SchemaInfo } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { WaitingList } from "./Waits";

const diary = {
  kind: "kind",
  when: "happens",
  done: "done",
  with: "contact",
  about: "subject",
  outcome: "outcome",
  minutes: "minutes",
  notes: "notes",
};
const activities = recordType("activities", "Activities", "activity", [field("kind", "Kind", "choice")], {
  written: true,
  diary,
});
const deals = recordType("deals", "Deals", "deal", [field("name", "Name", "text")], { written: true });
const schema = { types: [activities, deals] } as unknown as SchemaInfo;
const column = (name: string, more = {}) => ({
  field: name,
  label: name,
  kind: "text",
  to: "",
  number: false,
  ...more,
});

const planned = {
  type: "activities",
  total: 7,
  from: 0,
  sentence: [],
  columns: [column("happens"), column("kind"), column("subject"), column("deal", { to: "deals" })],
  rows: [
    {
      id: "5",
      cells: [{ text: "14 May 10:00" }, { text: "Call" }, { text: "Prices" }, { text: "Walkway", id: "9" }],
    },
  ],
};
const waiting = (start: string) => ({
  key: "overdue",
  title: "Overdue",
  empty: "Nothing is overdue.",
  brief: { version: 1, start } as never,
});

it("names what is planned, about what, with the way to all of it, and marks it done", async () => {
  const asked = serving({
    "POST /api/list": planned,
    "PATCH /api/records/activities/5": { id: 5, version: "v", values: {} },
  });
  show(<WaitingList schema={schema} waiting={waiting("activities")} />);
  expect(await screen.findByText("7")).toBeTruthy();
  expect(screen.getByRole("link", { name: "Walkway" }).getAttribute("href")).toBe("/records/deals/9");
  expect(screen.getByRole("link", { name: "All of them" }).getAttribute("href")).toContain(
    "/records/activities?list=all",
  );
  await userEvent.click(screen.getByRole("button", { name: "Done: Call Prices" }));
  await waitFor(() => expect(asked.find((a) => a.method === "PATCH")?.body).toEqual({ values: { done: "true" } }));
});

it("takes one line where nothing waits", async () => {
  serving({ "POST /api/list": { ...planned, type: "deals", total: 0, rows: [] } });
  show(<WaitingList schema={schema} waiting={waiting("deals")} />);
  expect(await screen.findByText("Nothing is overdue.")).toBeTruthy();
  expect(screen.queryByRole("list")).toBeNull();
});
