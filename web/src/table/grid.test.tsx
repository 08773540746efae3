import { fireEvent, screen } from "@testing-library/react";
import { useState } from "react";
import { useLocation } from "react-router";
import { beforeEach, expect, it, vi } from "vitest";
import type { ListPage } from "../api/client";
import { show } from "../testing";
import { Table } from "./Table";
import { type Cell, type Chosen, noneChosen } from "./work";

const page = {
  type: "deals",
  total: 4,
  from: 0,
  columns: [
    { field: "name", label: "Name", kind: "text", to: "", number: false },
    { field: "value", label: "Value", kind: "money", to: "", number: true },
  ],
  sentence: [],
  rows: [1, 2, 3, 4].map((n) => ({ id: `${n}`, cells: [{ text: `Deal ${n}` }, { text: `€${n}` }] })),
} as unknown as ListPage;

const edited = vi.fn((_: Cell) => true);
const opened = vi.fn();
const pasted = vi.fn();
let chosen: Chosen = noneChosen;

function Grid() {
  const [is, setIs] = useState<Chosen>(noneChosen);
  const [at, setAt] = useState<Cell>();
  chosen = is;
  return (
    <Table
      brief={{ version: 1, start: "deals" }}
      height={400}
      from="grid"
      fetch={async () => page}
      work={{
        chosen: is,
        onChoose: setIs,
        at,
        onAt: setAt,
        editing: false,
        onEdit: (cell) => edited(cell),
        editor: () => null,
        onOpen: opened,
        from: { version: 1, start: "deals", order: [{ field: "name" }] },
        onPaste: pasted,
      }}
    />
  );
}

let at: ReturnType<typeof useLocation> | undefined;
function Where() {
  at = useLocation();
  return null;
}

beforeEach(() => {
  for (const side of ["clientHeight", "clientWidth"] as const)
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 400 });
  Element.prototype.scrollTo = vi.fn() as typeof Element.prototype.scrollTo;
  vi.clearAllMocks();
});

it("is gone through, chosen from, edited and opened by keys", async () => {
  show(<Grid />);
  const grid = await screen.findByRole("grid", { name: "Records" });
  await screen.findByText("Deal 4");
  const key = (key: string, more: object = {}) => fireEvent.keyDown(grid, { key, ...more });
  key("ArrowDown");
  key("ArrowDown");
  key("ArrowRight");
  expect(grid.getAttribute("aria-activedescendant")).toBe("cell-at");
  expect(document.getElementById("cell-at")?.textContent).toBe("€2");
  key("Enter");
  expect(edited).toHaveBeenLastCalledWith({ row: 1, column: 1 });
  key(" ");
  key("ArrowDown");
  key("ArrowDown");
  key(" ", { shiftKey: true });
  expect([...chosen.ids]).toEqual(["2", "3", "4"]);
  expect(screen.getByRole("row", { name: /Deal 3/ }).getAttribute("aria-selected")).toBe("true");
  key("Enter", { ctrlKey: true });
  expect(opened).toHaveBeenCalledWith(page.rows[3], 3);
  key("Escape");
  expect(chosen).toBe(noneChosen);
  key("a", { ctrlKey: true });
  expect(chosen.all).toBe(true);
  fireEvent.click(screen.getByRole("checkbox", { name: "Choose Deal 2" }));
  expect([chosen.all, [...chosen.ids]]).toEqual([true, ["2"]]);
  fireEvent.paste(grid, { clipboardData: { getData: () => "5\t6" } });
  expect(pasted).toHaveBeenCalledWith("5\t6", [page.rows[3]], [page.columns[1]]);
});

it("opens what cannot be edited", async () => {
  edited.mockReturnValueOnce(false);
  show(<Grid />);
  const grid = await screen.findByRole("grid", { name: "Records" });
  await screen.findByText("Deal 1");
  fireEvent.keyDown(grid, { key: "ArrowDown" });
  fireEvent.keyDown(grid, { key: "Enter" });
  expect(opened).toHaveBeenCalledWith(page.rows[0], 0);
});

it("leads to a record by its link, with the list that it is of and its place there; windows of their own are the browser's", async () => {
  show(
    <>
      <Grid />
      <Where />
    </>,
  );
  const link = await screen.findByRole("link", { name: "Deal 3" });
  expect(link.getAttribute("href")).toBe("/records/deals/3");
  const was = at?.pathname;
  // A click that is not taken over would be followed, which the page of the tests cannot: it is stopped above.
  const stop = (e: Event) => e.preventDefault();
  addEventListener("click", stop);
  for (const held of [{ ctrlKey: true }, { metaKey: true }, { shiftKey: true }, { button: 1 }])
    fireEvent.click(link, held);
  expect(at?.pathname).toBe(was);
  fireEvent.click(link);
  removeEventListener("click", stop);
  expect([at?.pathname, at?.state]).toEqual([
    "/records/deals/3",
    { list: { brief: { version: 1, start: "deals", order: [{ field: "name" }] }, at: 2 } },
  ]);
});
