import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Brief, ListPage } from "../api/client";
import { show } from "../testing";
import { Table } from "./Table";
import { noneChosen } from "./work";

const columns = [
  { field: "name", label: "Name", kind: "text", to: "", number: false },
  { field: "value", label: "Value", kind: "money", to: "", number: true },
];
const page = (from: number, total: number, name: string) =>
  ({
    type: "deals",
    total,
    from,
    columns,
    sentence: [],
    rows: Array.from({ length: Math.min(200, total - from) }, (_, i) => ({
      id: `${from + i}`,
      cells: [{ text: `${name} ${from + i}` }, { text: "€1" }],
    })),
  }) as unknown as ListPage;

const all: Brief = { version: 1, start: "deals" };
const found: Brief = { ...all, filter: { field: "name", is: "contains", values: ["harbour"] } };
const sorted: Brief = { ...all, order: [{ field: "value", desc: true }] };
const text = (b: Brief) => JSON.stringify(b);

describe("a list of records", () => {
  let answers: Record<string, () => Promise<ListPage> | ListPage>;
  const list = (b: Brief) => (
    <Table
      brief={b}
      height={400}
      onChange={vi.fn()}
      from={text(b)}
      fetch={async (from) => (from ? page(from, 450, "All") : answers[text(b)]())}
    />
  );
  beforeEach(() => {
    // The page of the tests has no sizes; the list asks for its own.
    for (const side of ["clientHeight", "clientWidth"] as const)
      Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 400 });
    Element.prototype.scrollTo = vi.fn() as typeof Element.prototype.scrollTo;
    answers = {
      [text(all)]: () => page(0, 450, "All"),
      [text(found)]: () => page(0, 89, "Harbour"),
      [text(sorted)]: () => page(0, 450, "Large"),
    };
  });
  afterEach(() => void vi.restoreAllMocks());

  it("is the list of what is asked for, again and again, forth and back", async () => {
    const { rerender } = show(list(all));
    for (const [b, rows, first] of [
      [found, "89 rows, all of them", "Harbour 0"],
      [all, "450 rows, all of them", "All 0"],
      [sorted, "450 rows, all of them", "Large 0"],
      [all, "450 rows, all of them", "All 0"],
      [sorted, "450 rows, all of them", "Large 0"],
    ] as const) {
      rerender(list(b));
      expect(await screen.findByText(rows)).toBeTruthy();
      expect(await screen.findByRole("link", { name: first })).toBeTruthy();
    }
  });

  it("never shows an older answer that comes late, nor the order that is only asked for", async () => {
    let come: (p: ListPage) => void = () => undefined;
    answers[text(sorted)] = () =>
      new Promise((done) => {
        come = done;
      });
    const { rerender } = show(list(all));
    await screen.findByRole("link", { name: "All 0" });
    rerender(list(sorted));
    const value = () => screen.getByRole("columnheader", { name: /Value/ }).getAttribute("aria-sort");
    await waitFor(() => expect(screen.getByRole("table").getAttribute("aria-busy")).toBe("true"));
    expect([value(), screen.queryByText("Looking …") !== null]).toEqual(["none", true]);
    rerender(list(found));
    await screen.findByRole("link", { name: "Harbour 0" });
    await act(async () => come(page(0, 450, "Large")));
    expect(screen.getByRole("link", { name: "Harbour 0" })).toBeTruthy();
    expect(screen.queryByRole("link", { name: "Large 0" })).toBeNull();
    answers[text(sorted)] = () => page(0, 450, "Large");
    rerender(list(sorted));
    await screen.findByRole("link", { name: "Large 0" });
    expect(value()).toBe("descending");
  });

  it("scrolls to its end where it is far longer than browsers draw, and to each line by keys", async () => {
    const total = 3_000_000;
    const onAt = vi.fn();
    const work = {
      chosen: noneChosen,
      onChoose: vi.fn(),
      editing: false,
      onEdit: vi.fn(),
      onOpen: vi.fn(),
      editor: () => null,
    };
    const long = (row: number) => (
      <Table
        brief={all}
        height={400}
        from="long"
        fetch={async (from) => page(from, total, "All")}
        work={{ ...work, at: { row, column: 0 }, onAt }}
      />
    );
    const { rerender } = show(long(0));
    await screen.findByRole("link", { name: "All 0" });
    const grid = screen.getByRole("grid");
    const all3 = grid.lastElementChild as HTMLElement;
    expect(Number.parseFloat(all3.style.height)).toBeLessThan(17e6);
    const end = Number.parseFloat(all3.style.height) - 400;
    grid.scrollTop = end;
    fireEvent.scroll(grid);
    const last = await screen.findByRole("link", { name: "All 2999999" });
    const row = last.closest<HTMLElement>("[role=row]") as HTMLElement;
    const place = Number.parseFloat(row.parentElement?.style.top ?? "") + Number.parseFloat(row.style.top);
    expect(Math.round(place), "its last line is the last that is seen").toBe(end + 400 - 30);
    grid.scrollTop = end / 2;
    fireEvent.scroll(grid);
    expect(await screen.findByRole("link", { name: "All 1500000" })).toBeTruthy();
    rerender(long(1_500_000));
    fireEvent.keyDown(grid, { key: "Home" });
    for (const [key, to] of [
      ["PageDown", 1_500_015],
      ["ArrowUp", 1_499_999],
    ] as const) {
      fireEvent.keyDown(grid, { key });
      expect(onAt).toHaveBeenLastCalledWith({ row: to, column: 0 });
      expect(await screen.findByRole("link", { name: `All ${to}` })).toBeTruthy();
    }
  });

  it("sizes a column by its edge: its cells go along, and the width is kept once the edge is let go", async () => {
    Object.defineProperty(HTMLElement.prototype, "offsetWidth", { configurable: true, get: () => 120 });
    const change = vi.fn();
    show(<Table brief={all} height={400} onChange={change} from="sizing" fetch={async () => page(0, 3, "All")} />);
    const head = await screen.findByRole("columnheader", { name: /Value/ });
    const row = () => screen.getByRole("link", { name: "All 1" }).closest<HTMLElement>("[role=row]")?.style;
    fireEvent.mouseDown(head.lastElementChild as Element, { clientX: 300, button: 0 });
    fireEvent.mouseMove(document, { clientX: 360 });
    await waitFor(() => expect(row()?.gridTemplateColumns).toContain("180px"));
    expect(change, "nothing is kept while it is pulled").not.toHaveBeenCalled();
    fireEvent.mouseUp(document, { clientX: 360 });
    await waitFor(() => expect(change).toHaveBeenCalledTimes(1));
    expect(change).toHaveBeenCalledWith({
      ...all,
      columns: [{ field: "name" }, { field: "value", format: { width: 180 } }],
    });
  });

  it("says that a page could not be fetched, and fetches it when asked again", async () => {
    let fail = true;
    answers[text(all)] = () => {
      if (fail) throw new Error("no connection");
      return page(0, 450, "All");
    };
    show(list(all));
    const again = await screen.findByRole("button", { name: "Try again" });
    fail = false;
    await userEvent.click(again);
    expect(await screen.findByRole("link", { name: "All 0" })).toBeTruthy();
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  });
});
