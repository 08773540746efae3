import { useCallback, useMemo, useRef, useState } from "react";
import type { Answer, Brief, ListPage, Mark, Schemas } from "../api/client";
import { fetchGrouped, fetchList } from "../api/hooks";
import { keyOf, lineAt, listOnly, outline } from "./outline";
import { pageOf, pageSize, usePages } from "./pages";

/** A page of records, with the order and the columns that were asked for and, under groups, where those of each are. */
type Page = ListPage & {
  sorted?: { field: string; desc?: boolean };
  listed?: Brief["columns"];
  places?: Schemas["GroupedBody"]["places"];
};

/** A page as the answer to what was asked for. */
export const answerTo = (brief: Brief, page: ListPage): Page => ({
  ...page,
  sorted: brief.order?.[0],
  listed: brief.columns,
});

export type Source = {
  brief: Brief;
  marks?: Mark[];
  /** Which of several parts' records. */
  part?: number;
  /** Another place that the pages come from, and what it is called. */
  from?: string;
  fetch?: (from: number, count: number, signal: AbortSignal) => Promise<ListPage>;
  /** Its first page, where that came with something else, and when that was. */
  begun?: ListPage;
  at?: number;
};

/** How many records beyond those in view are fetched besides. */
const ahead = pageSize / 2;

/** By what the pages of a list are kept. */
export const listKey = (brief: Brief, marks?: Mark[], part?: number, from?: string) =>
  ["list", brief, marks, part, from] as const;

/** The lines of a table: groups, those that are open with the records under them, or records alone. */
export function useLines(source: Source, answer: Answer | undefined, records: boolean) {
  const { brief, marks, part, from, fetch, begun, at } = source;
  // Which pages are in view, or soon will be.
  const [seen, setSeen] = useState({ from: 0, to: 0 });
  const [closed, setClosed] = useState<{ all: boolean; but: Set<string> }>({ all: false, but: new Set() });
  const isClosed = useCallback((key: string) => closed.all !== closed.but.has(key), [closed]);
  // What is drawn, and whether records are shown, changes no record under a group.
  const asked = useMemo(() => {
    const { chart: _, totalsOnly: __, ...rest } = brief;
    return rest as Brief;
  }, [brief]);
  const get = async (first: number, count: number, signal: AbortSignal): Promise<Page> =>
    answerTo(
      brief,
      await (answer
        ? fetchGrouped(asked, first, count, signal)
        : fetch
          ? fetch(first, count, signal)
          : fetchList(brief, marks, first, count, signal, part)),
    );
  const pages = usePages<Page>(
    answer ? ["list", asked, "grouped"] : begun ? ["list begun", brief, at] : listKey(brief, marks, part, from),
    get,
    seen,
    { on: records, begun: begun && answerTo(brief, begun) },
  );
  // The same columns stay the same ones from answer to answer, so that what shows them is not drawn anew.
  const kept = useRef<ListPage["columns"]>([]);
  const now = pages.first?.columns ?? kept.current;
  if (JSON.stringify(now) !== JSON.stringify(kept.current)) kept.current = now;
  const placed = answer && records ? pages.first?.places : undefined;
  const places = useMemo(() => placed && new Map(placed.map((p) => [keyOf(p), p])), [placed]);
  const total = pages.first?.total ?? 0;
  const { list, count } = useMemo(
    () => (answer ? outline(answer.lines, places, isClosed) : listOnly(total)),
    [answer, places, isClosed, total],
  );
  return {
    pages,
    columns: kept.current,
    list,
    count,
    isClosed,
    /** Opens a closed group and closes an open one. */
    turn: (key: string) => {
      const but = new Set(closed.but);
      if (!but.delete(key)) but.add(key);
      setClosed({ ...closed, but });
    },
    turnAll: (all: boolean) => setClosed({ all, but: new Set() }),
    /** Says which lines are in view, so that their records are fetched. */
    look: (from: number, to: number) => {
      let low = Number.POSITIVE_INFINITY;
      let high = 0;
      for (let i = from; i < to; i++) {
        const record = lineAt(list, i)?.record;
        if (record === undefined) continue;
        low = Math.min(low, record);
        high = Math.max(high, record);
      }
      const next = { from: pageOf(Math.max(0, low - ahead)), to: pageOf(high + ahead) };
      if (low <= high && (next.from !== seen.from || next.to !== seen.to)) setSeen(next);
    },
  };
}
