import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { api, ask, type Brief, type Report } from "../../api/client";
import { setCondition } from "../../brief/edits";
import { changedBy, difference, fromAddress, held } from "../../brief/reading";
import { type Narrowing, narrowedBy, notNarrowed } from "./narrowing";
import { rowsFirst } from "./sought";

/** What a list is, what it is narrowed to, and what is looked for in it: all of it stands in the address. */
export type ListState = {
  /** The kept list that it is of; nothing for all records. */
  kept?: Report;
  /** The list as it is worked in, without what the chart or the search narrow it to. */
  list: Brief;
  narrowing: Narrowing;
  search: string;
  /** The list as its sentence says it. */
  said: Brief;
  /** The list with what is looked for, without what the chart narrows it to. */
  sought: Brief;
  /** The list as it is shown: with what is looked for besides. */
  shown: Brief;
  /** Whether shown has what is looked for by now: until then it is another list than the rows are of. */
  settled: boolean;
  /** Whether it is other than it is kept. */
  changed: boolean;
  go: (to: Partial<Pick<ListState, "list" | "narrowing" | "search">> & { kept?: number | "all" }) => void;
};

const all = "all";

export function useListState(type: string, everything: Brief, lists: Report[], first: number): ListState {
  const [params, setParams] = useSearchParams();
  const named = params.get("list");
  const kept = named === all ? undefined : lists.find((r) => r.id === (named ? Number(named) : first));
  const was = kept?.brief ?? everything;
  const list = held(changedBy(was, fromAddress(params.get("as"))), kept);
  const marks = params.get("marks");
  const narrowing = useMemo(() => (fromAddress(marks) as Narrowing | undefined) ?? notNarrowed, [marks]);
  const search = params.get("q") ?? "";
  const said = narrowedBy(list, narrowing);
  const words = useQuery({
    queryKey: ["list search", type, search],
    enabled: search.trim() !== "",
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      await rowsFirst();
      return ask(api.GET("/api/lists/{type}/search", { params: { path: { type }, query: { text: search } }, signal }));
    },
  });
  const cond = search.trim() ? words.data : undefined;
  const go: ListState["go"] = (to) => {
    const next = new URLSearchParams();
    const other = to.kept !== undefined;
    const at = other ? String(to.kept) : named;
    if (at) next.set("list", at);
    if (!other) {
      const d = difference(was, held(to.list ?? list, kept));
      if (Object.keys(d).length) next.set("as", JSON.stringify(d));
      const n = to.narrowing ?? narrowing;
      if (n.from.length) next.set("marks", JSON.stringify(n));
      const q = to.search ?? search;
      if (q) next.set("q", q);
    }
    // What is typed is no step of its own to go back by.
    setParams(next, { replace: to.search !== undefined, preventScrollReset: true });
  };
  return {
    kept,
    list,
    narrowing,
    search,
    said,
    sought: cond ? setCondition(list, -1, cond) : list,
    shown: cond ? setCondition(said, -1, cond) : said,
    settled: search.trim() === "" || (words.isSuccess && !words.isPlaceholderData),
    changed: Object.keys(difference(was, list)).length > 0,
    go,
  };
}
