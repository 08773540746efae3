import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef } from "react";
import { Link } from "react-router";
import type { Brief, ListPage, Mark } from "../../api/client";
import { fetchList } from "../../api/hooks";
import { NotYours, Trouble } from "../../ui/Say";

const pageSize = 200;
const rowHeight = 32;

/** A page, with how the list that it is of is ordered. */
type Page = ListPage & { sorted?: { field: string; desc?: boolean } };

/** A list of records of any length: only what is looked at is fetched and drawn. Its header sorts. */
export function RecordTable({
  brief,
  marks,
  part,
  height,
  onSort,
  from: source,
  fetch,
}: {
  brief: Brief;
  marks?: Mark[];
  /** Which of several parts' records. */
  part?: number;
  height: number | string;
  /** Another place that the pages come from, and what it is called. */
  from?: string;
  fetch?: (from: number, count: number, signal: AbortSignal) => Promise<ListPage>;
  onSort?: (field: string, number: boolean) => void;
}) {
  const get = (from: number, signal: AbortSignal) =>
    fetch ? fetch(from, pageSize, signal) : fetchList(brief, marks, from, pageSize, signal, part);
  // A page belongs to the question that it answers: what comes late for another one is never shown under this one.
  const page = (n: number) => ({
    queryKey: ["list", brief, marks, part, source, n],
    queryFn: async ({ signal }: { signal: AbortSignal }): Promise<Page> => ({
      ...(await get(n * pageSize, signal)),
      sorted: brief.order?.[0],
    }),
  });
  const { data: first, isPlaceholderData: stale, error, refetch, isFetching } = useQuery({ ...page(0), placeholderData: keepPreviousData });
  const scroller = useRef<HTMLDivElement>(null);
  const fresh = !stale;
  const total = first?.total ?? 0;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    useFlushSync: false,
  });
  const items = rows.getVirtualItems();
  const from = Math.floor((items[0]?.index ?? 0) / pageSize);
  const to = Math.floor((items[items.length - 1]?.index ?? 0) / pageSize);
  // The pages on both sides are fetched before they are scrolled to.
  const near = [...new Set([from - 1, from, to, to + 1])].filter((n) => n > 0 && n * pageSize < total && fresh);
  const others = useQueries({ queries: near.map(page) });
  const at = (n: number) => (n === 0 ? first : others[near.indexOf(n)]?.data);
  const trouble = error ?? others.find((o) => o.error)?.error;
  const again = () => void Promise.all([error ? refetch() : undefined, ...others.filter((o) => o.error).map((o) => o.refetch())]);

  useEffect(() => {
    if (fresh) scroller.current?.scrollTo({ top: 0 });
  }, [fresh]);

  const columns = useMemo(() => first?.columns ?? [], [first]);
  const type = first?.type ?? "";
  const least = columns.map((c, i) => c.width ?? (c.kind === "time" ? 148 : c.number ? 112 : i === 0 ? 160 : 104));
  const grow = (c: ListPage["columns"][0], i: number) => (c.number ? "0.8fr" : i === 0 ? "1.6fr" : "1fr");
  const template = columns.map((c, i) => (c.width ? `${c.width}px` : `minmax(${least[i]}px, ${grow(c, i)})`)).join(" ");
  // Header and rows are as wide as their columns need, wider than what they stand in where they must be: then both scroll.
  const width = { minWidth: least.reduce((sum, w) => sum + w, 0) };
  const sorted = first?.sorted;
  // Where it fills what it stands in, it is the rows that scroll: the list must never grow to the height of all of them.
  const fills = height === "100%";
  return (
    <div className={fills ? "flex h-full min-h-0 flex-col" : undefined}>
      {trouble ? (
        <div className="mb-2 flex items-center gap-3">
          <Trouble error={trouble} />
          <button type="button" className="btn" disabled={isFetching} onClick={again}>
            Try again
          </button>
        </div>
      ) : null}
      <div
        ref={scroller}
        role="table"
        aria-label="Records"
        aria-rowcount={total + 1}
        aria-busy={stale || !first}
        className="overflow-auto"
        style={{
          ...(fills ? { flex: "1 1 0", minHeight: 0 } : { maxHeight: height }),
          opacity: fresh ? undefined : 0.55,
          contain: "content",
        }}
      >
        {columns.length > 0 && (
          <div
            role="row"
            className="sticky top-0 z-10 grid border-ink border-b bg-paper"
            style={{ gridTemplateColumns: template, ...width }}
          >
            {columns.map((c) => (
              <div
                key={c.field}
                role="columnheader"
                aria-sort={sorted?.field === c.field ? (sorted.desc ? "descending" : "ascending") : "none"}
                className={`th truncate px-2 leading-8 ${c.number ? "text-right" : ""}`}
              >
                {onSort ? (
                  <button
                    type="button"
                    className="hover:text-ink"
                    onClick={() => onSort(c.field, c.number || c.kind === "date" || c.kind === "time")}
                  >
                    {c.label}
                    {sorted?.field === c.field ? (sorted.desc ? " ↓" : " ↑") : ""}
                  </button>
                ) : (
                  c.label
                )}
              </div>
            ))}
          </div>
        )}
        {!first && !trouble && (
          <div aria-hidden>
            {[1, 2, 3, 4, 5].map((n) => (
              <div key={n} className="border-line border-b px-2" style={{ height: rowHeight }}>
                <span className="inline-block h-2 w-1/3 rounded bg-sunk" />
              </div>
            ))}
          </div>
        )}
        <div style={{ height: rows.getTotalSize(), position: "relative", ...width }}>
          {items.map((item) => (
            <Line
              key={item.key}
              index={item.index}
              start={item.start}
              template={template}
              columns={columns}
              type={type}
              row={at(Math.floor(item.index / pageSize))?.rows[item.index % pageSize]}
            />
          ))}
        </div>
        {first && fresh && total === 0 && (
          <p className="px-3 py-6 text-ink2">No record meets all conditions. Take one out, or widen the period.</p>
        )}
      </div>
      {first && (
        <p className="border-line border-t px-2 py-1.5 text-ink2 text-xs" aria-live="polite">
          {stale ? "Looking …" : `${total.toLocaleString("en")} ${total === 1 ? "row" : "rows"}, all of them`}
          {fresh && first.unseen && ` · ${first.unseen}`}
        </p>
      )}
    </div>
  );
}

type LineProps = { index: number; start: number; template: string; columns: ListPage["columns"]; type: string; row?: ListPage["rows"][0] };

/** One line of the list; it is drawn once and then only moved out of sight. */
const Line = memo(function Line({ index, start, template, columns, type, row }: LineProps) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className="absolute left-0 grid w-full border-line border-b leading-[31px] hover:bg-sunk"
      style={{ gridTemplateColumns: template, height: rowHeight, top: start, contain: "strict" }}
    >
      {row
        ? row.cells.map((cell, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: cells stand in the order of columns
            <div key={i} role="cell" className={`truncate px-2 ${columns[i]?.number ? "text-right" : ""}`} title={cell.text}>
              {cell.hidden ? (
                <NotYours />
              ) : i === 0 && columns[0]?.kind !== "link" ? (
                <Link className="link" to={`/records/${type}/${row.id}`}>
                  {cell.text || `number ${row.id}`}
                </Link>
              ) : cell.id ? (
                <Link className="hover:underline" to={`/records/${columns[i].to}/${cell.id}`}>
                  {cell.text}
                </Link>
              ) : (
                cell.text
              )}
            </div>
          ))
        : columns.map((c) => (
            <div key={c.field} role="cell" className="px-2">
              <span className="inline-block h-2 w-2/3 rounded bg-sunk" />
            </div>
          ))}
    </div>
  );
});
