import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import type { Brief, ListPage, Mark } from "../api/client";
import { fetchList } from "../api/hooks";
import { count } from "../ui/figures";
import { Trouble } from "../ui/Say";
import { editColumn, sortAs } from "./edits";
import { HeadCell } from "./HeadCell";
import { usePages } from "./pages";
import { RecordCells } from "./RecordCells";
import { useEdges } from "./useEdges";
import { leastWidths, sum, template as templateOf } from "./widths";

const rowHeight = 32;

/** A page, with how the list that it is of is ordered. */
type Page = ListPage & { sorted?: { field: string; desc?: boolean } };

/**
 * A list of records of any length: only what is looked at is fetched and drawn. Where its brief may be changed, its header
 * sorts, moves, sizes and removes columns.
 */
export function RecordTable({
  brief,
  marks,
  part,
  height,
  onChange,
  from: source,
  fetch,
  begun,
  at,
}: {
  brief: Brief;
  marks?: Mark[];
  /** Which of several parts' records. */
  part?: number;
  height: number | string;
  /** Another place that the pages come from, and what it is called. */
  from?: string;
  fetch?: (from: number, count: number, signal: AbortSignal) => Promise<ListPage>;
  onChange?: (b: Brief) => void;
  /** Its first page, where that came with something else, and when that was. */
  begun?: ListPage;
  at?: number;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState({ from: 0, to: 0 });
  const { first, stale, busy, trouble, again, row } = usePages<Page>(
    begun ? ["list begun", brief, at] : ["list", brief, marks, part, source],
    async (from, count, signal) => ({
      ...(await (fetch ? fetch(from, count, signal) : fetchList(brief, marks, from, count, signal, part))),
      sorted: brief.order?.[0],
    }),
    seen,
    { begun: begun && { ...begun, sorted: brief.order?.[0] } },
  );
  const total = first?.total ?? 0;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    useFlushSync: false,
    onChange: (v) => {
      const shown = v.getVirtualItems();
      const next = { from: shown[0]?.index ?? 0, to: shown[shown.length - 1]?.index ?? 0 };
      if (next.from !== seen.from || next.to !== seen.to) setSeen(next);
    },
  });
  const items = rows.getVirtualItems();
  useEffect(() => {
    if (!stale) scroller.current?.scrollTo({ top: 0 });
  }, [stale]);

  const columns = useMemo(() => first?.columns ?? [], [first]);
  const type = first?.type ?? "";
  const least = useMemo(() => leastWidths(columns, first?.rows ?? []), [columns, first]);
  const template = templateOf(columns, least);
  // Header and rows are as wide as their columns need, wider than what they stand in where they must be: then both scroll.
  const width = sum(least);
  const edges = useEdges(scroller, width);
  // Where it fills what it stands in, it is the rows that scroll: the list must never grow to the height of all of them.
  const fills = height === "100%";
  return (
    <div className={fills ? "flex h-full min-h-0 flex-col" : undefined}>
      {trouble ? (
        <div className="mb-2 flex items-center gap-3">
          <Trouble error={trouble} />
          <button type="button" className="btn" disabled={busy} onClick={again}>
            Try again
          </button>
        </div>
      ) : null}
      <div className={`edges ${edges.sides} ${fills ? "flex min-h-0 flex-1 flex-col" : ""}`}>
        <div
          ref={scroller}
          role="table"
          aria-label="Records"
          aria-rowcount={total + 1}
          aria-busy={stale || !first}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys
          tabIndex={0}
          className="overflow-auto"
          style={{
            ...(fills ? { flex: "1 1 0", minHeight: 0 } : { maxHeight: height }),
            opacity: stale ? 0.55 : undefined,
            contain: "content",
          }}
        >
          {columns.length > 0 && (
            <div
              role="row"
              className="sticky top-0 z-10 grid border-ink border-b bg-paper"
              style={{ gridTemplateColumns: template, minWidth: width }}
            >
              {columns.map((c, i) => (
                <HeadCell
                  key={c.field}
                  column={c}
                  width={least[i]}
                  first={i === 0}
                  last={i === columns.length - 1}
                  sorted={first?.sorted}
                  onSort={onChange && ((field, down, desc) => onChange(sortAs(brief, field, down, desc)))}
                  onEdit={onChange && !stale ? (edit) => onChange(editColumn(brief, columns, i, edit)) : undefined}
                />
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
          <div style={{ height: rows.getTotalSize(), position: "relative", minWidth: width }}>
            {items.map((item) => (
              <Line
                key={item.key}
                index={item.index}
                start={item.start}
                template={template}
                columns={columns}
                type={type}
                row={row(item.index)}
              />
            ))}
          </div>
          {first && !stale && total === 0 && (
            <p className="px-3 py-6 text-ink2">No record meets all conditions. Take one out, or widen the period.</p>
          )}
        </div>
      </div>
      {first && (
        <p className="border-line border-t px-2 py-1.5 text-ink2 text-xs" aria-live="polite">
          {stale ? "Looking …" : `${count(total)} ${total === 1 ? "row" : "rows"}, all of them`}
          {!stale && first.unseen && ` · ${first.unseen}`}
        </p>
      )}
    </div>
  );
}

type LineProps = {
  index: number;
  start: number;
  template: string;
  columns: ListPage["columns"];
  type: string;
  row?: ListPage["rows"][0];
};

/** One line of the list; it is drawn once and then only moved out of sight. */
const Line = memo(function Line({ index, start, template, columns, type, row }: LineProps) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className="absolute left-0 grid w-full border-line border-b leading-[31px] hover:bg-sunk"
      style={{ gridTemplateColumns: template, height: rowHeight, top: start, contain: "strict" }}
    >
      <RecordCells columns={columns} type={type} row={row} />
    </div>
  );
});
