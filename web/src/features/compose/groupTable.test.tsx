import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { describe, expect, it, vi } from "vitest";
import type { Answer } from "../../api/client";
import { GroupTable } from "./GroupTable";

const answer = (prefix: string, n: number, moreLines = 0) =>
  ({
    groups: [{ field: "owner", label: "owner", across: false, overlap: false }],
    summaries: [{ key: "n", label: "Deals" }],
    columns: [{ labels: [], keys: [], total: true }],
    details: [],
    lines: Array.from({ length: n }, (_, i) => ({
      label: `${prefix} ${i}`,
      keys: [`=${prefix} ${i}`],
      depth: 1,
      inner: true,
      cells: [[String(i)]],
      detail: [],
      more: 0,
    })),
    moreLines,
  }) as unknown as Answer;

const table = (a: Answer) => (
  <MemoryRouter>
    <GroupTable answer={a} type="deals" details={false} onMark={() => {}} onMore={vi.fn()} />
  </MemoryRouter>
);
// Counted without roles, which are slow to find among hundreds of cells.
const rows = () => document.querySelectorAll("tbody > tr").length;
const soon = { timeout: 8000 };

describe("the table of groups", () => {
  it("shows what is in view at once and all of it soon after", async () => {
    render(table(answer("Person", 130)));
    expect(rows()).toBe(24);
    await waitFor(() => expect(rows()).toBe(130), soon);
    expect(screen.getByText("Person 129")).toBeTruthy();
  }, 20_000);

  it("lets more groups join those that stand there, and begins anew with others", async () => {
    const { rerender } = render(table(answer("Person", 100, 50)));
    await waitFor(() => expect(rows()).toBe(100), soon);
    rerender(table(answer("Person", 150)));
    expect(rows(), "nothing that was there goes away").toBeGreaterThanOrEqual(100);
    await waitFor(() => expect(rows()).toBe(150), soon);
    rerender(table(answer("Team", 90)));
    expect(rows()).toBe(24);
    await waitFor(() => expect(rows()).toBe(90), soon);
  }, 20_000);

  it("shows as many lines as have 120 cells at first, where they are wide", () => {
    const wide = answer("Person", 40);
    const columns = Array.from({ length: 15 }, (_, i) => ({ labels: [`Kind ${i}`], keys: [`=Kind ${i}`], total: false }));
    const lines = wide.lines.map((l) => ({ ...l, cells: columns.map(() => ["1"]) }));
    render(table({ ...wide, columns, lines } as Answer));
    expect(rows()).toBe(8);
  });
});

describe("a cross-table", () => {
  const kinds = ["Call", "Visit"];
  const column = (labels: string[], total = false) => ({ labels, keys: labels.map((l) => `=${l}`), total });
  const line = (label: string, depth: number, cells: string[][], more = {}) => ({
    label,
    keys: depth ? [`=${label}`] : [],
    depth,
    inner: depth > 0,
    cells,
    detail: [],
    more: 0,
    ...more,
  });
  const cross = (summaries: { key: string; label: string }[]) =>
    ({
      ...answer("Person", 0),
      groups: [
        { field: "owner", label: "owner", across: false },
        { field: "kind", label: "kind", across: true },
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
    }) as unknown as Answer;
  const one = [{ key: "n", label: "Activities" }];
  const heads = () => [...document.querySelectorAll("thead tr")].map((tr) => [...tr.querySelectorAll("th")].map((th) => th.textContent));

  it("has its groups over the columns, with the summaries below them where there are several", () => {
    const { unmount } = render(table(cross(one)));
    expect(heads()).toEqual([["Owner", "Call", "Visit", "All"]]);
    unmount();
    render(table(cross([...one, { key: "m", label: "Minutes" }])));
    expect(heads()).toEqual([
      ["", "Call", "Visit", "All"],
      ["Owner", "Activities", "Minutes", "Activities", "Minutes", "Activities", "Minutes"],
    ]);
  });

  it("opens what stands behind each cell, in words, subtotals and the total too", () => {
    const open = vi.fn();
    render(
      <MemoryRouter>
        <GroupTable answer={cross(one)} type="activities" details={false} onMark={open} onMore={vi.fn()} />
      </MemoryRouter>,
    );
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
    render(table(cross(one)));
    expect(screen.getByText("+1 · +50.0 %").className).toContain("text-sea");
    expect(screen.getByText("was 4")).toBeTruthy();
    expect(screen.getByTitle("2 in the period before")).toBeTruthy();
    expect(screen.getByTitle("nothing in the period before")).toBeTruthy();
  });
});
