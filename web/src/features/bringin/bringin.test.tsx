import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { BroughtIn } from "./BroughtIn";
import { ColumnsOfFile } from "./ColumnsOfFile";
import { pastOf } from "./past";
import { Unknown } from "./Unknown";

const file: Schemas["FileBody"] = {
  id: "F1",
  encoding: "utf-8",
  separator: ";",
  header: ["Subject", "Amount", "Colour"],
  rows: [["Fuel jetty", "1.234,50", "red"]],
  lines: 3,
};
const deals = recordType("deals", "Deals", "deal", [
  field("id", "Number", "id"),
  field("name", "Name", "text"),
  field("value", "Value", "money"),
  { ...field("weighted", "Weighted", "money"), worked: { as: "product", of: [] }, written: false },
]);
const guess = {
  type: "deals",
  make: true,
  columns: [{ field: "name" }, { field: "value", form: "comma", unsure: true }, { field: "" }],
};
const outcome = {
  new: 2,
  changed: 0,
  same: 0,
  refused: 1,
  lines: [{ line: 4, column: "Amount", reason: "“viel” is no money" }],
  makes: {},
  unknown: {},
  columns: [
    { field: "name", form: "" },
    { field: "value", form: "comma", unsure: true },
    { field: "name", form: "" },
  ],
};

describe("the columns of a file", () => {
  let progress: Partial<Schemas["ProgressBody"]> = {};
  let asked: ReturnType<typeof serving>;
  beforeEach(() => {
    asked = serving({
      "GET /api/me": { id: 1, role: "administrator", mayCompose: true, rights: ["shape"] },
      "GET /api/shape/deals": { version: 4, fields: [{ key: "kind", choices: [{ name: "Order", was: "Order" }] }] },
      "PUT /api/shape/deals/choices/kind": null,
      "POST /api/bring-in/F1/guess": { plan: guess, again: true },
      "POST /api/bring-in/F1/try": outcome,
      "POST /api/bring-in/F1/do": null,
      "GET /api/bring-in/F1/progress": () => progress,
    });
  });
  const tried = () => asked.filter((a) => a.path.endsWith("/try")).at(-1)?.body as typeof guess & { key?: string };

  it("are guessed, offered as fields that can be written, and marked where one should check", async () => {
    show(<ColumnsOfFile file={file} type={deals} onDone={() => {}} />);
    const what = await screen.findByRole<HTMLSelectElement>("combobox", { name: "What “Amount” is" });
    expect(what.value).toBe("value");
    expect([...what.options].map((o) => o.text)).toEqual(["left out", "a new field …", "Number", "Name", "Value"]);
    expect(screen.getByText(/As the last file/)).toBeTruthy();
    expect([...what.options].find((o) => o.text === "Name")?.disabled, "another column is it").toBe(true);
    expect(screen.getByText("please check")).toBeTruthy();
    expect(await screen.findByText(/Line 4, Amount: “viel” is no money/)).toBeTruthy();
  });

  it("are tried anew as one changes them, and brought in as they are then", async () => {
    show(<ColumnsOfFile file={file} type={deals} onDone={() => {}} />);
    await userEvent.selectOptions(await screen.findByRole("combobox", { name: "How “Amount” is written" }), "1,234.56");
    await waitFor(() => expect(tried().columns[1]).toMatchObject({ field: "value", form: "point" }));
    expect(screen.queryByText("please check")).toBeNull();
    await userEvent.selectOptions(
      screen.getByRole("combobox", { name: "A line is a record that is there already" }),
      "name",
    );
    await waitFor(() => expect(tried().key).toBe("name"));
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "What “Subject” is" }), "left out");
    await waitFor(() => expect(tried().key, "a column that is left out finds nothing").toBe(""));
    progress = { phase: "writing", done: 1, of: 2 };
    await userEvent.click(await screen.findByRole("button", { name: "Bring in 2 deals" }));
    expect((await screen.findByRole("progressbar")).getAttribute("value")).toBe("1");
    expect(screen.queryByRole("button", { name: /^Bring in/ }), "it is not begun twice").toBeNull();
    progress = { phase: "failed", why: "Fields have changed." };
    await screen.findByRole("button", { name: "Bring in 2 deals" }, { timeout: 3000 });
    expect(asked.find((a) => a.path.endsWith("/do"))?.body).toEqual(tried());
  });
});

it("offers days in the history of stages, where records have stages that one may write", () => {
  const stage = { ...field("stage", "Stage", "choice"), stages: true, choices: ["Enquiry", "Design"] };
  const since = {
    ...field("stage_since", "In stage since", "date"),
    worked: { as: "since", of: ["stage", "created"] },
  };
  const type = recordType("deals", "Deals", "deal", [stage, since]);
  expect(pastOf(type).map((f) => [f.key, f.label, f.kind])).toEqual([
    ["stage_since", "In stage since", "date"],
    ["stage=Enquiry", "came to Enquiry", "date"],
    ["stage=Design", "came to Design", "date"],
  ]);
  expect(pastOf({ ...type, fields: [{ ...stage, written: false }, since] })).toEqual([]);
  expect(pastOf(deals)).toEqual([]);
});

describe("values that are no choices", () => {
  it("are made choices after those that there are", async () => {
    const asked = serving({
      "GET /api/me": { id: 1, role: "administrator", rights: ["shape"] },
      "GET /api/shape/deals": { version: 4, fields: [{ key: "kind", choices: [{ name: "Order", was: "Order" }] }] },
      "PUT /api/shape/deals/choices/kind": null,
    });
    const done = vi.fn();
    const type = recordType("deals", "Deals", "deal", [field("kind", "Kind", "choice")]);
    show(<Unknown unknown={{ kind: ["Friend", "Foe"] }} type={type} onDone={done} />);
    expect(await screen.findByText(/No choices of kind: Friend, Foe/)).toBeTruthy();
    await userEvent.click(await screen.findByRole("button", { name: "Make them choices" }));
    await waitFor(() => expect(done).toHaveBeenCalled());
    expect(asked.find((a) => a.path.endsWith("/choices/kind"))?.body).toEqual({
      version: 4,
      choices: [
        { name: "Order", was: "Order" },
        { name: "Friend", was: "" },
        { name: "Foe", was: "" },
      ],
    });
  });
});

it("takes back what one brought in oneself, and says what stays", async () => {
  const mine = {
    id: 1,
    type: "deals",
    file: "a.csv",
    by: "Maite",
    at: 1,
    made: 2,
    changed: 0,
    refused: 0,
    undone: false,
  };
  const asked = serving({
    "GET /api/brought-in": [mine, { ...mine, id: 2, by: "Petra" }, { ...mine, id: 3, undone: true }],
    "POST /api/brought-in/1/undo": { left: 1 },
  });
  show(<BroughtIn types={[deals]} me={{ name: "Maite", role: "composer" } as never} />);
  const lines = await screen.findAllByRole("listitem");
  expect(lines.map((l) => within(l).queryByRole("button") !== null)).toEqual([true, false, false]);
  await userEvent.click(screen.getByRole("button", { name: "Take back" }));
  await waitFor(() => expect(asked.some((a) => a.path === "/api/brought-in/1/undo")).toBe(true));
});
