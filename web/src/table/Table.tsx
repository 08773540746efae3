import { memo, useEffect, useMemo, useRef } from "react";
import type { Answer, Brief, ListPage, Mark } from "../api/client";
import { count } from "../ui/figures";
import { Trouble } from "../ui/Say";
import { editColumn, sortAs } from "./edits";
import { GroupHeads, RecordHeads } from "./Heads";
import { standing } from "./heights";
import { GroupLineRow, RecordLine, recordHeight } from "./Lines";
import { keyOf, lineAt, lineOf } from "./outline";
import { useEdges } from "./useEdges";
import { useHeads } from "./useHeads";
import { useInView } from "./useInView";
import { type Source, useLines } from "./useLines";
import { useRecordColumns } from "./useRecordColumns";
import { useWays } from "./useWays";
import { useWork } from "./useWork";
import { room, sum } from "./widths";
import { allChosen, isChosen, noneChosen, type Work } from "./work";

const groupHeight = 34;
/** The room of the boxes that choose records, in px. */
const chooser = 30;
const noRows: ListPage["rows"] = [];
const noAnswer = { columns: [], summaries: [], groups: [] };

/**
 * The table of a report, of any length; only what is looked at is fetched and drawn. With an answer it has its groups with
 * their subtotals and the grand total, where every number opens the records behind it, and with details the records under
 * the innermost groups, in the columns that the report lists, which have a header of their own. Without an answer it is a
 * list of records. Where its brief may be changed, the header of the records sorts, moves, sizes and removes columns.
 */
export const Table = memo(function Table({
  answer,
  details = false,
  height = 560,
  onMark,
  onMore,
  onChange,
  work,
  ...source
}: Source & {
  answer?: Answer;
  details?: boolean;
  height?: number | string;
  onMark?: (m: Mark, words: string) => void;
  onMore?: () => void;
  onChange?: (b: Brief) => void;
  work?: Work;
}) {
  const { brief } = source;
  const levels = answer?.groups.filter((g) => !g.across).length ?? 0;
  const records = answer ? details && levels > 0 && !brief.parts : true;
  const { pages, columns, list, count: lineCount, isClosed, turn, turnAll, look } = useLines(source, answer, records);
  const { first, stale } = pages;
  const scroller = useRef<HTMLDivElement>(null);
  const tall = groupHeight + (answer?.lines.some((l) => l.before) ? 18 : 0);
  const lines = useMemo(
    () => standing(list, lineCount, { group: tall, record: recordHeight }),
    [list, lineCount, tall],
  );
  const inSight = useInView(scroller, lines, lineCount);
  const { from, to, begin } = inSight;
  // biome-ignore lint/correctness/useExhaustiveDependencies: which records these are depends on the outline as well
  useEffect(() => look(from, to), [from, to, list]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another answer begins with its first line
  useEffect(() => {
    if (!stale && !answer) begin();
  }, [stale, answer]);

  const heads = useHeads(answer ?? noAnswer);
  const least = useMemo(() => (answer ? groupWidths(answer, heads[heads.length - 1]) : []), [answer, heads]);
  const groupTemplate = `minmax(${least[0]}px, 1.8fr) ${least
    .slice(1)
    .map((w) => `minmax(${w}px, 1fr)`)
    .join(" ")}`;
  // While other columns are fetched, those that are there cannot be changed.
  const change = onChange && JSON.stringify(first?.listed) === JSON.stringify(brief.columns) ? onChange : undefined;
  const record = useRecordColumns(
    columns,
    first?.rows ?? noRows,
    change && ((index, width) => change(editColumn(brief, columns, index, { width }))),
  );
  const before = answer ? 14 + levels * 14 : 0;
  const recordTemplate = `${answer ? `${before}px ` : ""}${work ? `${chooser}px ` : ""}${record.template}`;
  // Header and rows are as wide as their columns need, wider than the page where they must be: then both scroll.
  const width = Math.max(sum(least), records ? record.width + before + (work ? chooser : 0) : 0);
  const edges = useEdges(scroller, width);
  // A list that begins with a place shows it.
  const begun = useRef(work?.at);
  const there = !!first;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when its first page is there
  useEffect(() => {
    if (there && begun.current) inSight.show(lineOf(list, begun.current.row), true);
  }, [there]);
  const worked = useWork(work, {
    rows: first?.total ?? 0,
    columns,
    row: pages.row,
    show: (row) => inSight.show(lineOf(list, row)),
  });
  const onClick = useWays(work?.from);
  // Where the groups fit into what is seen, they stay in it while their records are scrolled sideways.
  const inView = sum(least) <= edges.view ? { position: "sticky" as const, left: 0, width: edges.view } : undefined;
  const flat = levels <= 1 && !records;
  // Where it fills its place, it is the rows that scroll: the table must never grow to the height of all of them.
  const fills = height === "100%";
  const roles = {
    role: work ? "grid" : "table",
    "aria-label": answer ? "Groups" : "Records",
    "aria-rowcount": lineCount + 1,
    "aria-busy": records && (stale || !first),
    ...(work && { "aria-multiselectable": true, "aria-activedescendant": work.at ? "cell-at" : undefined }),
    // While something is to be let go in it, Escape is its own.
    "data-escape": (work && (work.at || work.chosen.all || work.chosen.ids.size > 0) && true) || undefined,
  };
  return (
    <div className={fills ? "flex h-full min-h-0 flex-col" : undefined}>
      {records && pages.trouble ? (
        <div className="mb-2 flex items-center gap-3">
          <Trouble error={pages.trouble} />
          <button type="button" className="btn" disabled={pages.busy} onClick={pages.again}>
            Try again
          </button>
        </div>
      ) : null}
      {answer && (records || levels > 1) && (
        <p className="mb-1 flex gap-4 px-2 text-[13px]">
          <button type="button" className="link" onClick={() => turnAll(false)}>
            Open all
          </button>
          <button type="button" className="link" onClick={() => turnAll(true)}>
            Close all
          </button>
          {records && first && (
            <span className="ml-auto text-ink2">{stale ? "Looking …" : said(first.total, answer.records)}</span>
          )}
        </p>
      )}
      <div className={`edges ${edges.sides} ${fills ? "flex min-h-0 flex-1 flex-col" : ""}`}>
        {/* biome-ignore lint/a11y/noStaticElementInteractions: it is a table that is read, or a grid that is worked in */}
        <div
          ref={scroller}
          {...roles}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys
          tabIndex={0}
          className="overflow-auto"
          onClick={onClick}
          onKeyDown={worked?.onKeyDown}
          onPaste={worked?.onPaste}
          style={{
            ...(fills ? { flex: "1 1 0", minHeight: 0 } : { maxHeight: height }),
            // What comes within a moment comes without a flicker.
            ...(stale && !answer && { opacity: 0.55, transition: "opacity 100ms 250ms" }),
            contain: "content",
          }}
        >
          <div role="rowgroup" className="sticky top-0 z-10 border-ink border-b bg-paper" style={{ minWidth: width }}>
            {answer && <GroupHeads heads={heads} answer={answer} template={groupTemplate} inView={inView} />}
            {records && columns.length > 0 && (
              <RecordHeads
                record={record}
                template={recordTemplate}
                under={!!answer}
                chosen={work && (work.chosen.ids.size > 0 ? undefined : work.chosen.all)}
                onChoose={work && ((all) => work.onChoose(all ? allChosen : noneChosen))}
                sorted={first?.sorted}
                onSort={onChange && ((field, down, desc) => onChange(sortAs(brief, field, down, desc)))}
                onEdit={change && ((columns, i, edit) => change(editColumn(brief, columns, i, edit)))}
              />
            )}
          </div>
          {!answer && !first && !pages.trouble && <Coming />}
          <div role="rowgroup" style={{ height: inSight.height, position: "relative", minWidth: width }}>
            <div role="presentation" className="absolute left-0 w-full" style={{ top: inSight.place }}>
              {Array.from({ length: Math.max(0, to - from) }, (_, i) => {
                const index = from + i;
                const at = lineAt(list, index);
                if (!at) return null;
                const top = inSight.top(index);
                if (at.record !== undefined) {
                  const row = pages.row(at.record);
                  const here = work?.at?.row === at.record ? work.at.column : undefined;
                  return (
                    <RecordLine
                      key={index}
                      index={index}
                      top={top}
                      template={recordTemplate}
                      columns={columns}
                      type={first?.type ?? ""}
                      row={row}
                      under={!!answer}
                      stale={!!answer && stale}
                      work={
                        work && worked && row
                          ? {
                              chosen: isChosen(work.chosen, row.id),
                              onChoose: worked.choose,
                              place: at.record,
                              at: here,
                              onAt: worked.at,
                              onEdit: worked.edit,
                              editor: work.editing && here !== undefined ? work.editor(row, columns[here]) : undefined,
                            }
                          : undefined
                      }
                    />
                  );
                }
                const { group } = at;
                return (
                  <GroupLineRow
                    key={index}
                    index={index}
                    line={group}
                    answer={answer as Answer}
                    top={top}
                    height={tall}
                    template={groupTemplate}
                    inView={inView}
                    look={group.depth === 0 ? "total" : flat || (group.inner && !records) ? "" : "head"}
                    open={group.depth > 0 && (records || !group.inner) ? !isClosed(keyOf(group)) : undefined}
                    onTurn={() => turn(keyOf(group))}
                    onMark={onMark}
                  />
                );
              })}
            </div>
          </div>
          {!answer && first && !stale && first.total === 0 && (
            <p className="px-3 py-6 text-ink2">No record meets all conditions. Take one out, or widen the period.</p>
          )}
        </div>
      </div>
      {!answer && first && (
        <p className="border-line border-t px-2 py-1.5 text-ink2 text-xs" aria-live="polite">
          {stale ? "Looking …" : `${count(first.total)} ${first.total === 1 ? "row" : "rows"}, all of them`}
          {!stale && first.unseen && ` · ${first.unseen}`}
          {!stale && first.unrated && ` · ${first.unrated}`}
        </p>
      )}
      {answer && answer.moreLines > 0 && onMore && (
        <button type="button" className="link px-2 py-2" onClick={onMore}>
          and {count(answer.moreLines)} more groups
        </button>
      )}
    </div>
  );
});

/** Lines that are still being fetched. */
const Coming = () => (
  <div aria-hidden>
    {[1, 2, 3, 4, 5].map((n) => (
      <div key={n} className="border-line border-b px-2" style={{ height: recordHeight }}>
        <span className="inline-block h-2 w-1/3 rounded bg-sunk" />
      </div>
    ))}
  </div>
);

/** How wide the columns of groups are at least: the name, then each summary of each column. */
function groupWidths({ columns, summaries, lines }: Answer, heads: { label: string }[]): number[] {
  const some = lines.slice(0, 200);
  const texts = columns.flatMap((_, ci) => summaries.map((_, si) => some.map((l) => l.cells[ci]?.[si])));
  return [220, ...texts.map((t, i) => room([...t, heads[i]?.label], 84, 240))];
}

/** Rows and records are both counted where they differ: a record that is brought several times has several rows. */
const said = (rows: number, records: number) =>
  rows === records
    ? `${count(records)} ${records === 1 ? "record" : "records"}, all of them`
    : `${count(rows)} rows of ${count(records)} ${records === 1 ? "record" : "records"}, all of them`;
