import type { QueryClient } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";
import { pageSize } from "../../table/pages";
import { listKey } from "../../table/useLines";

/** Where the pages of a list come from while something is looked for in it: its words go with the question. */
export const sought = (brief: Brief, search: string) => ({
  from: `words ${search}`,
  fetch: (from: number, count: number, signal: AbortSignal) =>
    ask(api.POST("/api/list", { body: { brief, search, from, count }, signal })),
});

/** Asks for the first rows as soon as a key is down, before anything is drawn anew for it. */
export function askSought(client: QueryClient, brief: Brief, search: string) {
  if (!search.trim()) return;
  const { from, fetch } = sought(brief, search);
  void client.prefetchQuery({
    queryKey: [...listKey(brief, undefined, undefined, from), 0],
    queryFn: async ({ signal }) => ({ ...(await fetch(0, pageSize, signal)), sorted: brief.order?.[0] }),
  });
}
