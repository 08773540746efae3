import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused, type SchemaInfo, type Schemas } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { Moved } from "./Moved";
import { MovedPanel } from "./MovedPanel";

const schema = {
  types: [recordType("deals", "Deals", "deal", [field("name", "Name", "text")])],
} as unknown as SchemaInfo;
const step = (name: string, words: string, more: Partial<Schemas["MoveStepBody"]> = {}): Schemas["MoveStepBody"] => ({
  step: name,
  words,
  records: 1,
  values: ["1"],
  total: false,
  sign: 0,
  from: 0,
  to: 0.5,
  zero: 0,
  ...more,
});
const moves: Schemas["MovesBody"] = {
  since: "10 May 2026",
  asOf: "now",
  text: "€2 less than on 10 May 2026: €2 slipped.",
  sentence: [],
  summaries: ["Sum of value"],
  drawn: "Sum of value",
  drawing: {
    kind: "bridge",
    title: "What moved",
    categories: [
      { label: "slipped", colour: "#000000", onInk: "#ffffff", text: "", textOnInk: "", detail: "", total: "" },
    ],
    series: [
      {
        name: "Sum of value",
        form: "",
        points: [{ value: 0, from: 2, label: "−€2", say: "slipped: −€2", mark: { rows: ["went:period"], across: [] } }],
      },
    ],
    ticks: [],
    second: [],
    notes: [],
  } as unknown as Schemas["MovesBody"]["drawing"],
  steps: [
    step("then", "10 May 2026", { total: true }),
    step("went:period", "slipped", { sign: -1, values: ["−€2.00"] }),
    step("now", "now", { total: true, records: 0 }),
  ],
};
const moved: Schemas["MovedBody"] = {
  type: "deals",
  field: "expected close",
  amount: "Sum of value",
  count: 2,
  records: [
    {
      id: "7",
      name: "Pier Ternbay",
      there: true,
      countedThen: "€2.00",
      countedNow: "",
      was: "1 Jun 2026",
      is: "1 Jul 2026",
    },
    { id: "9", name: "Pier Gone", there: false, countedThen: "€1.00", countedNow: "", was: "2 Jun 2026", is: "" },
  ],
};
const brief = { version: 1 as const, start: "deals" };

it("asks from the end of last week, and opens the records of a step with what put them there", async () => {
  const asked = serving({ "POST /api/moves": moves, "POST /api/moves/records": moved });
  show(<Moved schema={schema} brief={brief} today="2026-05-14" onClose={vi.fn()} />);
  await screen.findByText(moves.text);
  expect(asked[0].body).toEqual({ brief: { ...brief, since: "last_week" } });
  expect(screen.queryByRole("button", { name: "now" })).toBeNull(); // nothing to open
  await userEvent.click(screen.getByRole("button", { name: "slipped" }));
  expect((await screen.findByRole("link", { name: "Pier Ternbay" })).getAttribute("href")).toBe("/records/deals/7");
  expect(screen.getByText("1 Jun 2026").parentElement?.textContent).toBe("1 Jun 2026 → 1 Jul 2026");
  // What is there no more is told of, and neither opened nor chosen.
  expect(screen.queryByRole("link", { name: "Pier Gone" })).toBeNull();
  expect(screen.queryByRole("checkbox", { name: "Choose Pier Gone" })).toBeNull();
  await userEvent.click(screen.getByRole("checkbox", { name: "All of them" }));
  await screen.findByText("1 chosen");
});

it("says why it cannot be told, and asks again for another day", async () => {
  const asked = serving({
    "POST /api/moves": () => {
      throw new Refused(422, { title: "Refused", detail: "2027-01-01 is after today.", status: 422 } as never);
    },
  });
  show(<Moved schema={schema} brief={brief} today="2026-05-14" onClose={vi.fn()} />);
  await screen.findByText(/after today/);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "From" }), "day");
  await waitFor(() => expect(asked.at(-1)?.body).toEqual({ brief: { ...brief, since: "2026-05-07" } }));
});

it("tells how the totals stood, the latest first, each number under its own name", async () => {
  const point = (day: string, date: string, values: string[], to: number) => ({
    day,
    date,
    values,
    records: 3,
    from: 0,
    to,
  });
  const asked = serving({
    "POST /api/moves": moves,
    "POST /api/stood": {
      summaries: ["Sum of value", "Average age"],
      drawn: "Sum of value",
      points: [point("3 May 2026", "2026-05-03", ["€8.00", ""], 1), point("now", "", ["€0.00", "4"], 0)],
    },
  });
  show(<Moved schema={schema} brief={brief} today="2026-05-14" onClose={vi.fn()} />);
  await userEvent.click(await screen.findByRole("radio", { name: "How it stood" }));
  const then = (await screen.findByRole("rowheader", { name: "3 May 2026" })).closest("tr");
  expect(asked.at(-1)?.body).toEqual({ brief, unit: "week", count: 13, lines: false });
  expect(screen.getAllByRole("rowheader").map((h) => h.textContent)).toEqual(["now", "3 May 2026"]);
  await userEvent.click(screen.getByRole("radio", { name: "Days" }));
  await waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ unit: "day", count: 90 }));
  const names = screen.getAllByRole("columnheader").map((h) => h.textContent);
  expect(names).toEqual(["at the end of", "records", "Sum of value", "Average age"]);
  const cells = [...(then?.querySelectorAll("td:not([aria-hidden])") ?? [])].map((c) => c.textContent);
  expect(cells).toEqual(["3", "€8.00", "–"]); // an average of nothing is no number
  expect(screen.queryByText(moves.text)).toBeNull();
  await userEvent.click(screen.getByRole("radio", { name: "Step by step" }));
  await screen.findByText(moves.text);
});

it("stands on a dashboard as a bridge, and opens the records of a step beside it", async () => {
  const asked = serving({
    "POST /api/moves": moves,
    "POST /api/moves/records": moved,
    "GET /api/schema": schema,
    "GET /api/me": { id: 1, today: "2026-05-14" },
  });
  show(<MovedPanel brief={brief} since="last_month" />);
  await screen.findByText(moves.text);
  expect(asked.find((a) => a.path === "/api/moves")?.body).toEqual({ brief: { ...brief, since: "last_month" } });
  await userEvent.click(screen.getByRole("button", { name: "slipped: −€2" }));
  expect(await screen.findByRole("link", { name: "Pier Ternbay" })).toBeTruthy();
  expect(asked.find((a) => a.path === "/api/moves/records")?.body).toMatchObject({
    brief: { since: "last_month" },
    step: "went:period",
  });
});

it("tells what moved group by group, each number under its own step, and opens its records", async () => {
  const cell = (records: number, value: string) => ({ records, value });
  const asked = serving({
    "POST /api/moves": moves,
    "POST /api/moves/records": moved,
    "POST /api/moves/groups": {
      label: "stage",
      drawn: "Sum of value",
      steps: [
        { step: "from:group", words: "from another" },
        { step: "won", words: "won" },
      ],
      groups: [
        {
          key: "=Enquiry",
          label: "Enquiry",
          was: "€5",
          now: "€3",
          change: "−€2",
          way: -1,
          cells: [cell(0, ""), cell(1, "−€2")],
        },
        {
          key: "~blank",
          label: "(blank)",
          was: "€0",
          now: "€4",
          change: "+€4",
          way: 1,
          cells: [cell(2, "+€4"), cell(0, "")],
        },
      ],
      left: 0,
    },
  });
  const by = {
    types: [recordType("deals", "Deals", "deal", [field("stage", "Stage", "choice"), field("owner", "Owner", "link")])],
  } as unknown as SchemaInfo;
  show(<Moved schema={by} brief={brief} today="2026-05-14" onClose={vi.fn()} />);
  await userEvent.click(await screen.findByRole("radio", { name: "By group" }));
  const table = await screen.findByRole("table", { name: "What moved, by stage" });
  expect(asked.find((a) => a.path === "/api/moves/groups")?.body).toEqual({
    brief: { ...brief, since: "last_week", groups: [{ field: "stage" }] },
  });
  const rows = [...table.querySelectorAll("tr")].map((r) => [...r.children].map((c) => c.textContent));
  expect(rows).toEqual([
    ["stage", "then", "from another", "won", "now", "change"],
    ["Enquiry", "€5", "", "−€2", "€3", "−€2"],
    ["(blank)", "€0", "+€4", "", "€4", "+€4"],
  ]);
  await userEvent.click(screen.getByRole("button", { name: "Enquiry, won: −€2" }));
  await screen.findByRole("link", { name: "Pier Ternbay" });
  expect(asked.find((a) => a.path === "/api/moves/records")?.body).toMatchObject({ step: "won", group: "=Enquiry" });
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "By which group" }), "owner");
  await waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ brief: { groups: [{ field: "owner" }] } }));
  expect(screen.queryByRole("link", { name: "Pier Ternbay" })).toBeNull();
});

it("tells how records went on from stage to stage, by a group where one asks for it", async () => {
  const stage = (name: string, entered: number, rate: string, median: string) => ({
    stage: name,
    pipeline: "Projects",
    entered,
    onward: 1,
    still: 2,
    rate,
    median,
    to: [{ stage: "Lost", count: 3 }],
  });
  const asked = serving({
    "POST /api/moves": moves,
    "POST /api/passages": (a: { body: unknown }) => {
      const by = (a.body as { brief: { groups?: unknown } }).brief.groups;
      const all = { label: "All", stages: [stage("Enquiry", 8, "12.5 %", "21"), stage("Design", 4, "25.0 %", "")] };
      return {
        dates: "1 Jan – 31 Mar 2026",
        label: by ? "owner" : "",
        groups: by
          ? [all, { label: "Ada", stages: [stage("Enquiry", 5, "20.0 %", "3"), stage("Design", 0, "", "")] }]
          : [all],
        drawing: { ...moves.drawing, kind: "funnel" },
        left: 0,
      };
    },
  });
  const staged = {
    types: [
      recordType("deals", "Deals", "deal", [
        field("owner", "Owner", "link"),
        { ...field("stage", "Stage", "choice"), stages: true },
      ]),
    ],
  } as unknown as SchemaInfo;
  show(
    <Moved schema={staged} brief={{ ...brief, groups: [{ field: "owner" }] }} today="2026-05-14" onClose={vi.fn()} />,
  );
  await userEvent.click(await screen.findByRole("radio", { name: "Stage to stage" }));
  await screen.findByRole("table", { name: "From stage to stage" });
  expect(asked.at(-1)?.body).toEqual({ brief, within: "last_quarter" });
  const rows = () =>
    [...screen.getByRole("table", { name: "From stage to stage" }).querySelectorAll("tbody tr")].map((r) =>
      [...r.children].map((c) => c.textContent),
    );
  expect(rows()).toEqual([
    ["Enquiry", "8", "1 12.5 %", "21", "2", "Lost 3"],
    ["Design", "4", "1 25.0 %", "–", "2", "Lost 3"],
  ]);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "By which group" }), "owner");
  await waitFor(() =>
    expect(rows().map((r) => r.slice(0, 3))).toEqual([
      ["All", "Enquiry", "8"],
      ["All", "Design", "4"],
      ["Ada", "Enquiry", "5"],
    ]),
  );
});

it("tells how what was expected held, for another period, each number under its own name", async () => {
  const held: Schemas["HeldBody"] = {
    on: "31 Dec 2025",
    dates: "1 Jan – 31 Mar 2026",
    text: "On 31 Dec 2025, 3 deals were expected.",
    won: "2 deals for €9.00",
    median: "4 days after",
    decided: 2,
    outcomes: [
      { words: "expected", records: 3, value: "€12.00", share: 1, part: "100.0 %" },
      { words: "won", records: 1, value: "€3.00", share: 0.25, part: "25.0 %" },
    ],
    likely: [{ stated: "60 %", records: 3, won: 1, came: "33.3 %", said: 0.6, is: 1 / 3 }],
  };
  const asked = serving({ "POST /api/moves": moves, "POST /api/held": held });
  const staged = {
    types: [recordType("deals", "Deals", "deal", [{ ...field("stage", "Stage", "choice"), stages: true }])],
  } as unknown as SchemaInfo;
  show(<Moved schema={staged} brief={brief} today="2026-05-14" onClose={vi.fn()} />);
  await userEvent.click(await screen.findByRole("radio", { name: "How it held" }));
  expect(await screen.findByText(held.text)).toBeTruthy();
  expect(asked.at(-1)?.body).toMatchObject({ within: "last_quarter" });
  const row = (name: string) =>
    [...(screen.getByRole("rowheader", { name }).closest("tr")?.querySelectorAll("td:not([aria-hidden])") ?? [])].map(
      (c) => c.textContent,
    );
  expect(row("won")).toEqual(["1", "€3.00", "25.0 %"]);
  expect(row("60 %")).toEqual(["3", "1", "33.3 %"]);
  expect(screen.getByText(/Of the 2 that were decided, half were so 4 days after the date/)).toBeTruthy();
  await userEvent.selectOptions(screen.getByLabelText("Expected within which time"), "last year");
  await waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ within: "last_year" }));
});
