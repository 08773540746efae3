import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import type { Brief } from "../../api/client";
import { fetchList } from "../../api/hooks";
import { count } from "../../ui/figures";

/** Where a record stands in the list that it was opened from: the way to the ones before and after it. */
export type FromList = { brief: Brief; at: number };

export function InList({ type, id }: { type: string; id: string }) {
  const from = (useLocation().state as { list?: FromList } | null)?.list;
  const first = Math.max(0, (from?.at ?? 0) - 1);
  const near = useQuery({
    queryKey: ["list", from?.brief, "near", first],
    enabled: !!from,
    queryFn: ({ signal }) => fetchList(from?.brief as Brief, undefined, first, 3, signal),
  }).data;
  if (!from || !near) return null;
  const here = near.rows.findIndex((r) => r.id === id);
  const to = (step: number, label: string, sign: string) => {
    const r = here < 0 ? undefined : near.rows[here + step];
    return r ? (
      <Link
        to={`/records/${type}/${r.id}`}
        state={{ list: { brief: from.brief, at: from.at + step } }}
        replace
        aria-label={`${label}: ${r.cells[0]?.text}`}
        className="link px-1"
      >
        {sign}
      </Link>
    ) : (
      <span className="px-1 text-ink3" aria-hidden>
        {sign}
      </span>
    );
  };
  return (
    <span>
      · {here >= 0 ? `${count(from.at + 1)} of ${count(near.total)}` : "no longer in the list"}{" "}
      {to(-1, "The one before", "‹")}
      {to(1, "The next one", "›")}
    </span>
  );
}
