import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import type { ListPage } from "../api/client";

export const pageSize = 200;

/** The page that a row is on. */
export const pageOf = (row: number) => Math.floor(row / pageSize);

/** Rows of any number, a page at a time: only what is looked at is fetched. */
export type Rows<P extends ListPage> = {
  first: P | undefined;
  /** An older answer stands while the one that was asked for is not there: it looks so. */
  stale: boolean;
  /** Whether the first page is being fetched. */
  busy: boolean;
  trouble: unknown;
  again: () => void;
  row: (index: number) => P["rows"][0] | undefined;
};

/**
 * Fetches the pages that are seen or soon will be. A page belongs to the question that it answers: what
 * comes late for another one is never shown under this one.
 */
export function usePages<P extends ListPage>(
  key: readonly ["list" | "list begun", ...unknown[]],
  get: (from: number, count: number, signal: AbortSignal) => Promise<P>,
  seen: { from: number; to: number },
  { on = true, begun }: { on?: boolean; begun?: P } = {},
): Rows<P> {
  const page = (n: number) => ({
    queryKey: [...key, n] as const,
    queryFn: ({ signal }: { signal: AbortSignal }) => get(n * pageSize, pageSize, signal),
  });
  const {
    data,
    isPlaceholderData: stale,
    error,
    refetch,
    isFetching,
  } = useQuery({
    ...page(0),
    placeholderData: keepPreviousData,
    enabled: on,
    ...(begun ? { initialData: begun as P, staleTime: Number.POSITIVE_INFINITY } : {}),
  });
  const first = data as P | undefined;
  const { from, to } = seen;
  const near = Array.from({ length: Math.min(10, to - from + 1) }, (_, i) => from + i).filter(
    (n) => n > 0 && n * pageSize < (first?.total ?? 0) && on && !stale,
  );
  const others = useQueries({ queries: near.map(page) });
  const at = (n: number) => (n === 0 ? first : (others[near.indexOf(n)]?.data as P | undefined));
  return {
    first,
    stale,
    busy: isFetching,
    trouble: error ?? others.find((o) => o.error)?.error,
    again: () =>
      void Promise.all([error ? refetch() : undefined, ...others.filter((o) => o.error).map((o) => o.refetch())]),
    row: (index) => at(pageOf(index))?.rows[index % pageSize],
  };
}
