import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Brief, ListPage, Mark } from "../../api/client";
import { fetchList } from "../../api/hooks";
import { NotYours, Trouble } from "../../ui/Say";

const pageSize = 200;
const rowHeight = 32;

type Pages = { of: string; first?: ListPage; rows: Map<number, ListPage>; error?: unknown };

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
  fetch?: (from: number, count: number) => Promise<ListPage>;
  onSort?: (field: string, number: boolean) => void;
}) {
  const of = JSON.stringify([brief, marks, part, source]);
  const fetcher = useRef(fetch);
  fetcher.current = fetch;
  const [pages, setPages] = useState<Pages>({ of, rows: new Map() });
  const asked = useRef(new Set<string>());
  const scroller = useRef<HTMLDivElement>(null);
  const fresh = pages.of === of;
  const total = pages.first?.total ?? 0;
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

  useEffect(() => {
    // The pages on both sides are fetched before they are scrolled to.
    const want = fresh ? [from, to, to + 1, from - 1].filter((n) => n >= 0 && n * pageSize < Math.max(1, total)) : [0];
    for (const page of new Set(want)) {
      const key = `${of} ${page}`;
      if (asked.current.has(key)) continue;
      asked.current.add(key);
      (fetcher.current
        ? fetcher.current(page * pageSize, pageSize)
        : fetchList(brief, marks, page * pageSize, pageSize, undefined, part)
      ).then(
        (got) =>
          setPages((was) => {
            const next: Pages = was.of === of ? { ...was, rows: new Map(was.rows), error: undefined } : { of, rows: new Map() };
            next.first = next.first ?? got;
            next.rows.set(page, got);
            return next;
          }),
        (error) => {
          asked.current.delete(key);
          setPages((was) => ({ ...was, error }));
        },
      );
    }
  }, [of, from, to, fresh, total, brief, marks, part]);

  useEffect(() => {
    if (fresh) scroller.current?.scrollTo({ top: 0 });
  }, [fresh]);

  const columns = useMemo(() => pages.first?.columns ?? [], [pages.first]);
  const type = pages.first?.type ?? "";
  const template = columns
    .map((c, i) => (c.width ? `${c.width}px` : c.number ? "minmax(112px, 0.8fr)" : i === 0 ? "minmax(160px, 1.6fr)" : "minmax(100px, 1fr)"))
    .join(" ");
  const sorted = brief.order?.[0];
  // Where it fills what it stands in, it is the rows that scroll: the list must never grow to the height of all of them.
  const fills = height === "100%";
  return (
    <div className={fills ? "flex h-full min-h-0 flex-col" : undefined}>
      {pages.error ? <Trouble error={pages.error} /> : null}
      <div
        ref={scroller}
        role="table"
        aria-label="Records"
        aria-rowcount={total + 1}
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
            className="sticky top-0 z-10 grid min-w-full border-ink border-b bg-paper"
            style={{ gridTemplateColumns: template, width: "max(100%, fit-content)" }}
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
        <div style={{ height: rows.getTotalSize(), position: "relative" }}>
          {items.map((item) => (
            <Line
              key={item.key}
              index={item.index}
              start={item.start}
              template={template}
              columns={columns}
              type={type}
              row={pages.rows.get(Math.floor(item.index / pageSize))?.rows[item.index % pageSize]}
            />
          ))}
        </div>
        {pages.first && total === 0 && (
          <p className="px-3 py-6 text-ink2">No record meets all conditions. Take one out, or widen the period.</p>
        )}
      </div>
      {pages.first && (
        <p className="border-line border-t px-2 py-1.5 text-ink2 text-xs" aria-live="polite">
          {total.toLocaleString("en")} {total === 1 ? "row" : "rows"}, all of them
          {pages.first.unseen && ` · ${pages.first.unseen}`}
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
