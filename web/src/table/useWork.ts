import { useMemo, useRef } from "react";
import type { ListPage } from "../api/client";
import { allChosen, type Cell, led, noneChosen, turned, type Work, withChosen } from "./work";

type Row = ListPage["rows"][0];

type Listed = {
  rows: number;
  columns: ListPage["columns"];
  row: (i: number) => Row | undefined;
  /** Brings a row into view. */
  show: (row: number) => void;
};

/**
 * The keys of a table that is worked in: arrows go from cell to cell, Enter or F2 edits one, Space chooses its record,
 * Ctrl+A all, Escape lets go, Ctrl+Enter opens the record.
 */
export function useWork(work: Work | undefined, list: Listed) {
  const last = useRef<number>(undefined);
  // Lines are drawn once and keep what they were given: it goes by what is there when it is called.
  const now = useRef({ work, list });
  now.current = { work, list };
  const acts = useMemo(
    () => ({
      choose: (place: number, span?: boolean) => {
        const { work, list } = now.current;
        const row = list.row(place);
        if (!work || !row) return;
        const from = last.current;
        last.current = place;
        if (!span || from === undefined) return work.onChoose(turned(work.chosen, row.id));
        const ids: string[] = [];
        for (let i = Math.min(from, place); i <= Math.max(from, place); i++) ids.push(list.row(i)?.id ?? "");
        work.onChoose(
          withChosen(
            work.chosen,
            ids.filter((id) => id !== ""),
          ),
        );
      },
      at: (at: Cell) => now.current.work?.onAt(at),
      edit: (row: number, column: number) => {
        const { work, list } = now.current;
        const is = list.row(row);
        if (is && list.columns[column]) work?.onEdit({ row, column }, is, list.columns[column]);
      },
    }),
    [],
  );
  if (!work) return undefined;
  const { columns } = list;
  return {
    ...acts,
    onKeyDown: (e: React.KeyboardEvent) => {
      const field = (e.target as HTMLElement).closest("input,select,textarea,[role=menu],[role=dialog]");
      if (work.editing || (field && field.getAttribute("type") !== "checkbox") || list.rows === 0) return;
      const at = work.at;
      const row = at && list.row(at.row);
      if (e.key === "a" && (e.ctrlKey || e.metaKey)) work.onChoose(allChosen);
      else if (e.key === "Escape" && (work.chosen.all || work.chosen.ids.size > 0)) work.onChoose(noneChosen);
      else if (e.key === "Escape" && at) work.onAt(undefined);
      else if (!at && e.key.startsWith("Arrow")) work.onAt({ row: 0, column: 0 });
      else if (at && row && e.key === " ") acts.choose(at.row, e.shiftKey);
      else if (at && row && e.key === "Enter" && (e.ctrlKey || e.metaKey)) work.onOpen(row, at.row);
      else if (at && row && (e.key === "Enter" || e.key === "F2")) {
        if ((e.target as HTMLElement).closest("a,button")) return;
        if (!work.onEdit(at, row, columns[at.column])) work.onOpen(row, at.row);
      } else {
        const next = at && !e.ctrlKey && !e.metaKey && !e.altKey && led(e.key, at, list.rows, columns.length);
        if (!next) return;
        work.onAt(next);
        list.show(next.row);
      }
      e.preventDefault();
      e.stopPropagation();
    },
    onPaste: (e: React.ClipboardEvent) => {
      const text = e.clipboardData.getData("text/plain");
      if (work.editing || !work.at || !work.onPaste || !text) return;
      e.preventDefault();
      const rows: Row[] = [];
      for (let i = work.at.row; i < list.rows; i++) {
        const row = list.row(i);
        if (!row) break;
        rows.push(row);
      }
      work.onPaste(text, rows, columns.slice(work.at.column));
    },
  };
}
