import type { QueryClient } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";
import { pageSize } from "../../table/pages";
import { answerTo, listKey } from "../../table/useLines";

/** Where the pages of a list come from while something is looked for in it: its words go with the question. */
export const sought = (brief: Brief, search: string) => ({
  from: `words ${search}`,
  fetch: (from: number, count: number, signal: AbortSignal) =>
    ask(api.POST("/api/list", { body: { brief, search, from, count }, signal })),
});

let asked: Promise<void> = Promise.resolve();

/** Resolves when the rows that were asked for last are there: what can wait lets them go first. */
export const rowsFirst = () => asked;

/** Asks for the first rows as soon as a key is down, before anything is drawn anew for it. */
export function askSought(client: QueryClient, brief: Brief, search: string) {
  if (!search.trim()) return;
  const { from, fetch } = sought(brief, search);
  asked = client.prefetchQuery({
    queryKey: [...listKey(brief, undefined, undefined, from), 0],
    queryFn: async ({ signal }) => answerTo(brief, await fetch(0, pageSize, signal)),
  });
}
