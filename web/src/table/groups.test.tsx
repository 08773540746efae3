import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Answer, type Brief, Refused } from "../api/client";
import { serving, show } from "../testing";
import { Table } from "./Table";

const column = (labels: string[], total = false) => ({ labels, keys: labels.map((l) => `=${l}`), total });
const line = (label: string, depth: number, cells: string[][], more = {}) => ({
  label,
  keys: depth ? [`=${label}`] : [],
  depth,
  inner: depth > 0,
  cells,
  ...more,
});
const answer = (n: number, more: Partial<Answer> = {}) =>
  ({
    groups: [{ field: "owner", label: "owner", across: false, overlap: false }],
    summaries: [{ key: "n", label: "Deals" }],
    columns: [column([], true)],
    lines: [
      ...Array.from({ length: n }, (_, i) => line(`Person ${i}`, 1, [[String(i)]])),
      line("All", 0, [[String(n)]]),
    ],
    moreLines: 0,
    records: 5,
    ...more,
  }) as unknown as Answer;
const brief: Brief = { version: 1, start: "deals", groups: [{ field: "owner" }] };
const table = (a: Answer, more: Partial<Parameters<typeof Table>[0]> = {}) => (
  <Table answer={a} brief={brief} details={false} onMark={() => {}} onMore={vi.fn()} {...more} />
);
const heads = () =>
  [...document.querySelectorAll("[role=rowgroup]:first-child [role=row]")].map((tr) =>
    [...tr.querySelectorAll("[role=columnheader]")].map((th) => th.textContent),
  );

beforeEach(() => {
  for (const side of ["clientHeight", "clientWidth", "offsetHeight", "offsetWidth"] as const)
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 400 });
});

describe("the table of groups", () => {
  it("draws what is in view of any number of groups, and says how many lines there are", () => {
    show(table(answer(3000)));
    expect(screen.getByRole("table", { name: "Groups" }).getAttribute("aria-rowcount")).toBe("3002");
    expect(screen.getByText("Person 0")).toBeTruthy();
    expect(document.querySelectorAll("[role=rowheader]").length).toBeLessThan(60);
  });

  it("offers more groups where there are", () => {
    const more = vi.fn();
    show(table(answer(2, { moreLines: 1200 }), { onMore: more }));
    fireEvent.click(screen.getByRole("button", { name: "and 1,200 more groups" }));
    expect(more).toHaveBeenCalled();
  });
});

describe("groups and records", () => {
  const rows = (from: number, to: number) =>
    Array.from({ length: to - from }, (_, i) => ({
      id: String(from + i),
      cells: [{ text: `Deal ${from + i}` }, { text: "€2,084,200.00" }],
    }));
  const grouped = () =>
    serving({
      "POST /api/grouped": ({ body }: { body: unknown }) => ({
        type: "deals",
        total: 5,
        from: (body as { from: number }).from,
        columns: [
          { field: "name", label: "Name", kind: "text", to: "", number: false },
          { field: "value", label: "Value", kind: "money", to: "", number: true },
        ],
        rows: rows(0, 5),
        sentence: [],
        places: [
          { keys: ["=Person 0"], first: 0, count: 2 },
          { keys: ["=Person 1"], first: 2, count: 3 },
        ],
      }),
    });
  const two = answer(2, {
    summaries: [
      { key: "n", label: "Deals" },
      { key: "w", label: "Sum of weighted value" },
    ] as Answer["summaries"],
    lines: [
      line("Person 0", 1, [["2", "€5"]]),
      line("Person 1", 1, [["3", "€7"]]),
      line("All", 0, [["5", "€12"]]),
    ] as Answer["lines"],
  });

  it("has all records of a group under it, in columns with a header of their own", async () => {
    grouped();
    show(table(two, { details: true }));
    expect((await screen.findByRole("link", { name: "Deal 4" })).getAttribute("href")).toBe("/records/deals/4");
    expect(heads(), "no value stands under another summary's header").toEqual([
      ["Owner", "Deals", "Sum of weighted value"],
      ["Name", "Value"],
    ]);
    const record = screen.getByRole("link", { name: "Deal 4" }).closest<HTMLElement>("[role=row]");
    const header = screen.getByRole("row", { name: "Header of the records" });
    expect(record?.style.gridTemplateColumns).toBe(header.style.gridTemplateColumns);
    expect(record?.style.gridTemplateColumns, "an amount has the room it needs").toContain("minmax(126px");
  });

  it("opens and closes groups, one and all", async () => {
    grouped();
    show(table(two, { details: true }));
    await screen.findByRole("link", { name: "Deal 0" });
    await userEvent.click(screen.getByRole("button", { name: "Close Person 0" }));
    expect(screen.queryByRole("link", { name: "Deal 0" })).toBeNull();
    expect(screen.getByRole("link", { name: "Deal 2" }), "the other group's stay").toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Close all" }));
    expect(screen.queryAllByRole("link")).toHaveLength(0);
    await userEvent.click(screen.getByRole("button", { name: "Open Person 1" }));
    expect(screen.getAllByRole("link").map((l) => l.textContent)).toEqual(["Deal 2", "Deal 3", "Deal 4"]);
  });

  it("counts rows and records where a record has several rows", async () => {
    grouped();
    show(table({ ...two, records: 3 }, { details: true }));
    expect(await screen.findByText("5 rows of 3 records, all of them")).toBeTruthy();
  });

  it("sorts, moves and removes columns of the records from their header", async () => {
    grouped();
    const change = vi.fn();
    show(table(two, { details: true, onChange: change }));
    await userEvent.click(await screen.findByRole("button", { name: "Value" }));
    expect(change).toHaveBeenLastCalledWith({ ...brief, order: [{ field: "value", desc: true }] });
    await userEvent.click(screen.getByRole("button", { name: "Column Value" }));
    await userEvent.click(screen.getByRole("menuitem", { name: "Move to the left" }));
    expect(change).toHaveBeenLastCalledWith({ ...brief, columns: [{ field: "value" }, { field: "name" }] });
  });

  it("says what went wrong, and tries again", async () => {
    let fail = true;
    serving({
      "POST /api/grouped": () => {
        if (fail) throw new Refused(422, { title: "Refused", detail: "Too large.", status: 422 } as never);
        return { type: "deals", total: 0, columns: [], rows: [], places: [] };
      },
    });
    show(table(two, { details: true }));
    expect(await screen.findByText(/Too large/, undefined, { timeout: 4000 })).toBeTruthy();
    fail = false;
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    await waitFor(() => expect(screen.queryByText(/Too large/)).toBeNull());
  });
});

describe("a cross-table", () => {
  const kinds = ["Call", "Visit"];
  const cross = (summaries: { key: string; label: string }[]) =>
    answer(0, {
      groups: [
        { field: "owner", label: "owner", across: false, overlap: false },
        { field: "kind", label: "kind", across: true, overlap: false },
      ],
      summaries,
      columns: [...kinds.map((k) => column([k])), column([], true)],
      lines: [
        line("Aldo Marlow", 1, [summaries.map(() => "3"), summaries.map(() => ""), summaries.map(() => "3")], {
          before: [
            [{ before: "2", text: "+1 · +50.0 %", way: 1 }],
            [{ before: "4", text: "", way: 0 }],
            [{ before: "", text: "", way: 0 }],
          ],
        }),
        line("All", 0, [summaries.map(() => "3"), summaries.map(() => "1"), summaries.map(() => "4")]),
      ],
      compared: "the period before",
    } as unknown as Partial<Answer>);
  const one = [{ key: "n", label: "Activities" }];

  it("has its groups over the columns, with the summaries below them where there are several", () => {
    const { unmount } = show(table(cross(one)));
    expect(heads()).toEqual([["Owner", "Call", "Visit", "All"]]);
    unmount();
    show(table(cross([...one, { key: "m", label: "Minutes" }])));
    expect(heads()).toEqual([
      ["", "Call", "Visit", "All"],
      ["Owner", "Activities", "Minutes", "Activities", "Minutes", "Activities", "Minutes"],
    ]);
  });

  it("has neighbours of one group under one head, and what is together beside them", () => {
    const deep = answer(0, {
      groups: [
        { field: "owner", label: "owner", across: false, overlap: false },
        { field: "won", label: "won", across: true, overlap: false },
        { field: "kind", label: "kind", across: true, overlap: false },
      ],
      columns: [
        column(["2026", "Call"]),
        column(["2026", "Visit"]),
        column(["2026"]),
        column(["2025", "Call"]),
        column([], true),
      ],
      lines: [line("All", 0, [["1"], ["2"], ["3"], ["4"], ["7"]])],
    } as unknown as Partial<Answer>);
    show(table(deep));
    expect(heads()).toEqual([
      ["", "2026", "2025", "All"],
      ["Owner", "Call", "Visit", "together", "Call", "All"],
    ]);
    expect(screen.getByRole("columnheader", { name: "2026" }).getAttribute("aria-colspan")).toBe("3");
  });

  it("opens what stands behind each cell, in words, subtotals and the total too", () => {
    const open = vi.fn();
    show(table(cross(one), { onMark: open }));
    const cells = screen.getAllByRole("button");
    expect(cells.map((b) => b.getAttribute("aria-label"))).toEqual([
      "Aldo Marlow, Call, Activities: 3",
      "Aldo Marlow, Activities: 3",
      "All, Call, Activities: 3",
      "All, Visit, Activities: 1",
      "All, Activities: 4",
    ]);
    fireEvent.click(cells[0]);
    expect(open).toHaveBeenLastCalledWith({ rows: ["=Aldo Marlow"], across: ["=Call"] }, "Aldo Marlow, Call");
    fireEvent.click(cells[4]);
    expect(open).toHaveBeenLastCalledWith({ rows: [], across: [] }, "All");
  });

  it("says what was before, also where nothing is there now", () => {
    show(table(cross(one)));
    expect(screen.getByText("+1 · +50.0 %").className).toContain("text-sea");
    expect(screen.getByText("was 4")).toBeTruthy();
    expect(screen.getByTitle("2 in the period before")).toBeTruthy();
    expect(screen.getByTitle("nothing in the period before")).toBeTruthy();
  });
});
