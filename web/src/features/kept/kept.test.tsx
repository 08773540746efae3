import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Route, Routes } from "react-router";
import { expect, it } from "vitest";
import { Refused, type Schemas } from "../../api/client";
import { serving, show } from "../../testing";
import { KeptList } from "./KeptList";
import { KeptPage } from "./KeptPage";

const kept = { id: 7, name: "Before the review", day: "2026-05-01", when: "1 May 2026, 09:00" };
const whole = {
  ...kept,
  title: "Deals by stage",
  text: "Deals by stage.",
  days: "1 Apr – 30 Jun 2026",
  count: 3,
  drawing: { kind: "table" },
  groups: ["Stage"],
  summaries: ["Deals", "Sum of value"],
  lines: [
    { labels: ["Enquiry"], values: ["3", "€8.00"] },
    { labels: [], values: ["3", "€8.00"] },
  ],
  left: 0,
  type: "deals",
  columns: [{ field: "name", label: "Deal", kind: "text", to: "", number: false }],
  kept: 1,
  of: 3,
} as unknown as Schemas["KeptWholeBody"];
const against: Schemas["AgainstBody"] = {
  groups: ["Stage"],
  summaries: ["Deals", "Sum of value"],
  lines: [
    {
      labels: ["Enquiry"],
      cells: [
        { was: "3", now: "", change: "−3", way: -1 },
        { was: "€8.00", now: "", change: "−€8.00", way: -1 },
      ],
    },
    {
      labels: ["Design"],
      cells: [
        { was: "", now: "2", change: "+2", way: 1 },
        { was: "", now: "€9.00", change: "+€9.00", way: 1 },
      ],
    },
    {
      labels: [],
      cells: [
        { was: "3", now: "2", change: "−1", way: -1 },
        { was: "€8.00", now: "€9.00", change: "+€1.00", way: 1 },
      ],
    },
  ],
  left: 0,
};
const page = (
  <Routes>
    <Route path="/kept/:id" element={<KeptPage />} />
    <Route path="/kept" element={<p>all of them</p>} />
  </Routes>
);
const served = {
  "GET /api/kept/7": whole,
  "GET /api/kept/7/against": against,
  "GET /api/kept/7/records": { from: 0, rows: [{ id: "1", cells: [{ text: "Pier Ternbay" }] }] },
  "GET /api/me": { id: 1, today: "2026-05-14", mayCompose: true },
  "GET /api/schema": { types: [], rail: [] },
  "GET /api/folders": [],
  "GET /api/boards": [],
};

it("says when it was, and sets each value beside what it is now, under its own name", async () => {
  serving(served);
  show(page, "/kept/7");
  await screen.findByText("As it was on 1 May 2026, 09:00");
  await userEvent.click(screen.getByRole("radio", { name: "Beside today" }));
  const table = await screen.findByRole("table", { name: "Then and now" });
  const heads = within(table)
    .getAllByRole("columnheader")
    .map((h) => h.textContent);
  expect(heads).toEqual([
    "Stage",
    "Deals, then",
    "Deals, now",
    "Deals, change",
    "Sum of value, then",
    "Sum of value, now",
    "Sum of value, change",
  ]);
  const rows = within(table)
    .getAllByRole("row")
    .slice(1)
    .map((r) => [...r.children].map((c) => c.textContent));
  expect(rows).toEqual([
    ["Enquiry", "3", "–", "−3", "€8.00", "–", "−€8.00"],
    ["Design", "–", "2", "+2", "–", "€9.00", "+€9.00"],
    ["All", "3", "2", "−1", "€8.00", "€9.00", "+€1.00"],
  ]);
});

it("shows its records as they were, and says that not all were kept", async () => {
  serving(served);
  show(page, "/kept/7?show=records");
  await screen.findByText("Pier Ternbay");
  screen.getByText("The first 1 of 3 records were kept.");
});

it("is deleted only when asked twice", async () => {
  const asked = serving({ ...served, "DELETE /api/kept/7": undefined });
  show(page, "/kept/7");
  await userEvent.click(await screen.findByRole("button", { name: "More to do with it" }));
  await userEvent.click(await screen.findByRole("menuitem", { name: "Delete…" }));
  await userEvent.click(await screen.findByRole("button", { name: "Not now" }));
  expect(asked.some((a) => a.method === "DELETE")).toBe(false);
});

it("says to others that it is not theirs", async () => {
  serving({
    "GET /api/kept/7": () => {
      throw new Refused(404, { title: "Not found", detail: "There is no such kept result.", status: 404 } as never);
    },
  });
  show(page, "/kept/7");
  await screen.findByText(/open to whoever kept it alone/);
});

it("says in an empty list how something comes into it", async () => {
  serving({ "GET /api/kept": [] });
  show(<KeptList />);
  await screen.findByText(/Keep this result…/);
});
