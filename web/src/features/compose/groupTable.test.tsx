import { render, screen, waitFor } from "@testing-library/react";
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
});
