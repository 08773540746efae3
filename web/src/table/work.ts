import type { Brief, ListPage } from "../api/client";

type Row = ListPage["rows"][0];

/** The records that are chosen: these, or all that the list shows but these. */
export type Chosen = { all: boolean; ids: ReadonlySet<string> };

export const noneChosen: Chosen = { all: false, ids: new Set() };
export const allChosen: Chosen = { all: true, ids: new Set() };

/** A cell, by its place in the list. */
export type Cell = { row: number; column: number };

/**
 * What makes a table one that is worked in: records are chosen, a cell is where one is, and is edited in place. Without it
 * a table is read.
 */
export type Work = {
  chosen: Chosen;
  onChoose: (next: Chosen) => void;
  at?: Cell;
  onAt: (at: Cell | undefined) => void;
  /** Whether the cell where one is is being edited. */
  editing: boolean;
  /** Begins to edit a cell; false where it cannot be. */
  onEdit: (at: Cell, row: Row, column: ListPage["columns"][0]) => boolean;
  /** What a cell is edited with. */
  editor: (row: Row, column: ListPage["columns"][0]) => React.ReactNode;
  /** Opens a record, by its place. */
  onOpen: (row: Row, place: number) => void;
  /** What goes with the way to a record: from which list it is opened, where its records are in the list's order. */
  from?: Brief;
  /** Takes what was copied elsewhere into the cells from where one is. */
  onPaste?: (text: string, rows: Row[], columns: ListPage["columns"]) => void;
};

export const isChosen = (c: Chosen, id: string) => c.all !== c.ids.has(id);

/** How many of a list's records are chosen. */
export const countChosen = (c: Chosen, total: number) => (c.all ? Math.max(0, total - c.ids.size) : c.ids.size);

/** Chooses a record, or lets it go. */
export function turned(c: Chosen, id: string): Chosen {
  const ids = new Set(c.ids);
  if (!ids.delete(id)) ids.add(id);
  return { ...c, ids };
}

/** Chooses some records besides. */
export function withChosen(c: Chosen, more: string[]): Chosen {
  const ids = new Set(c.ids);
  for (const id of more) {
    if (c.all) ids.delete(id);
    else ids.add(id);
  }
  return { ...c, ids };
}

/** Where a key leads from a cell; nothing for a key that leads nowhere. */
export function led(key: string, at: Cell, rows: number, columns: number): Cell | undefined {
  const row = (n: number) => ({ ...at, row: Math.max(0, Math.min(rows - 1, n)) });
  const column = (n: number) => ({ ...at, column: Math.max(0, Math.min(columns - 1, n)) });
  switch (key) {
    case "ArrowDown":
      return row(at.row + 1);
    case "ArrowUp":
      return row(at.row - 1);
    case "ArrowRight":
      return column(at.column + 1);
    case "ArrowLeft":
      return column(at.column - 1);
    case "PageDown":
      return row(at.row + 15);
    case "PageUp":
      return row(at.row - 15);
    case "Home":
      return column(0);
    case "End":
      return column(columns - 1);
  }
  return undefined;
}
