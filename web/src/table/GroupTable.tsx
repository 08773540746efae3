import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useCallback, useMemo, useRef, useState } from "react";
import type { Answer, Brief, Mark, Schemas } from "../api/client";
import { fetchGrouped } from "../api/hooks";
import { count } from "../ui/figures";
import { Trouble } from "../ui/Say";
import { editColumn, sortAs } from "./edits";
import { HeadCell } from "./HeadCell";
import { type GroupLine, keyOf, lineAt, outline } from "./outline";
import { usePages } from "./pages";
import { RecordCells } from "./RecordCells";
import { useEdges } from "./useEdges";
import { leastWidths, room, sum, template as templateOf } from "./widths";

const groupHeight = 34;
const recordHeight = 29;

/**
 * The groups with their subtotals and the grand total; every number opens the records behind it. With its records, each
 * innermost group has all of them under it, in the columns that the report lists, which have a header of their own; groups
 * open and close.
 */
export const GroupTable = memo(function GroupTable({
  answer,
  brief,
  details,
  height = 560,
  onMark,
  onMore,
  onChange,
}: {
  answer: Answer;
  brief: Brief;
  details: boolean;
  height?: number | string;
  onMark: (m: Mark, words: string) => void;
  onMore: () => void;
  onChange?: (b: Brief) => void;
}) {
  const { columns, summaries, lines } = answer;
  const rowFields = answer.groups.filter((g) => !g.across);
  const across = answer.groups.filter((g) => g.across);
  const showRecords = details && rowFields.length > 0 && !brief.parts;
  const [closed, setClosed] = useState<{ all: boolean; but: Set<string> }>({ all: false, but: new Set() });
  const isClosed = useCallback((key: string) => closed.all !== closed.but.has(key), [closed]);
  const turn = (key: string) => {
    const but = new Set(closed.but);
    if (!but.delete(key)) but.add(key);
    setClosed({ ...closed, but });
  };
  const scroller = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState({ from: 0, to: 0 });
  // What is drawn, and whether records are shown, changes no record.
  const asked = useMemo(() => {
    const { chart: _, totalsOnly: __, ...rest } = brief;
    return rest as Brief;
  }, [brief]);
  const pages = usePages<Schemas["GroupedBody"]>(
    ["list", asked, "grouped"],
    (from, count, signal) => fetchGrouped(asked, from, count, signal),
    seen,
    { on: showRecords },
  );
  const placed = showRecords ? pages.first?.places : undefined;
  const places = useMemo(() => placed && new Map(placed.map((p) => [keyOf(p), p])), [placed]);
  const { list, count: rowCount } = useMemo(() => outline(lines, places, isClosed), [lines, places, isClosed]);
  const compared = lines.some((l) => l.before);
  const tall = compared ? groupHeight + 18 : groupHeight;
  const rows = useVirtualizer({
    count: rowCount,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (lineAt(list, i)?.group ? tall : recordHeight),
    overscan: 10,
    useFlushSync: false,
    onChange: (v) => {
      const shown = v.getVirtualItems().map((i) => lineAt(list, i.index)?.record ?? -1);
      const some = shown.filter((r) => r >= 0);
      const next = some.length ? { from: Math.min(...some), to: Math.max(...some) } : seen;
      if (next.from !== seen.from || next.to !== seen.to) setSeen(next);
    },
  });
  // The sizes of lines hang on what they are: another outline is measured anew.
  const measured = useRef(list);
  if (measured.current !== list) {
    measured.current = list;
    rows.measure();
  }
  // With a single summary its name need not stand over every column.
  const merged = across.length > 0 && summaries.length === 1;
  const least = useMemo(() => {
    const out = [220];
    columns.forEach((c, ci) => {
      summaries.forEach((s, si) => {
        out.push(
          room([...lines.slice(0, 200).map((l) => l.cells[ci]?.[si]), merged ? c.labels.at(-1) : s.label], 84, 240),
        );
      });
    });
    return out;
  }, [columns, summaries, lines, merged]);
  const groupTemplate = `minmax(${least[0]}px, 1.8fr) ${least
    .slice(1)
    .map((w) => `minmax(${w}px, 1fr)`)
    .join(" ")}`;
  const recordColumns = pages.first?.columns ?? [];
  const recordLeast = useMemo(() => leastWidths(recordColumns, pages.first?.rows ?? []), [recordColumns, pages.first]);
  const recordTemplate = `${14 + rowFields.length * 14}px ${templateOf(recordColumns, recordLeast)}`;
  const width = Math.max(sum(least), showRecords ? sum(recordLeast) + 14 + rowFields.length * 14 : 0);
  const edges = useEdges(scroller, width);
  // Where the groups fit into what is seen, they stay in it while their records are scrolled sideways.
  const inView = sum(least) <= edges.view ? { position: "sticky" as const, left: 0, width: edges.view } : undefined;
  const flat = rowFields.length <= 1 && !showRecords;
  return (
    <div>
      {pages.trouble && showRecords ? (
        <div className="mb-2 flex items-center gap-3">
          <Trouble error={pages.trouble} />
          <button type="button" className="btn" onClick={pages.again}>
            Try again
          </button>
        </div>
      ) : null}
      {(showRecords || rowFields.length > 1) && (
        <p className="mb-1 flex gap-4 px-2 text-[13px]">
          <button type="button" className="link" onClick={() => setClosed({ all: false, but: new Set() })}>
            Open all
          </button>
          <button type="button" className="link" onClick={() => setClosed({ all: true, but: new Set() })}>
            Close all
          </button>
          {showRecords && pages.first && (
            <span className="ml-auto text-ink2">
              {pages.stale ? "Looking …" : said(pages.first.total, answer.records)}
            </span>
          )}
        </p>
      )}
      <div className={`edges ${edges.sides}`}>
        <div
          ref={scroller}
          role="table"
          aria-label="Groups"
          aria-rowcount={rowCount + 1}
          aria-busy={showRecords && (pages.stale || !pages.first)}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys
          tabIndex={0}
          className="overflow-auto"
          style={{ maxHeight: height }}
        >
          <div role="rowgroup" className="sticky top-0 z-10 border-ink border-b bg-paper" style={{ minWidth: width }}>
            {across.length > 0 &&
              (merged ? across.slice(0, -1) : across).map((_, level) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: one line a level
                <div key={level} role="row" className="grid" style={{ gridTemplateColumns: groupTemplate, ...inView }}>
                  <div role="columnheader" className="sticky left-0 bg-paper" />
                  {columns.map((c) => (
                    <div
                      key={c.keys.join("\n")}
                      role="columnheader"
                      className="th border-line border-l px-2 py-1 !text-right"
                      style={{ gridColumn: `span ${summaries.length}` }}
                    >
                      {columnLabel(c, level)}
                    </div>
                  ))}
                </div>
              ))}
            <div role="row" className="grid" style={{ gridTemplateColumns: groupTemplate, ...inView }}>
              <div role="columnheader" className="th sticky left-0 bg-paper px-2 py-1.5">
                {rowFields.map((g) => cap(g.label)).join(", then ")}
              </div>
              {columns.map((c) =>
                summaries.map((s) => (
                  <div key={`${keyOf(c)} ${s.key}`} role="columnheader" className="th px-2 py-1.5 !text-right">
                    {merged ? columnLabel(c, across.length - 1) || "All" : s.label}
                  </div>
                )),
              )}
            </div>
            {showRecords && recordColumns.length > 0 && (
              <div
                role="row"
                aria-label="Header of the records"
                className="grid border-line border-t bg-ground text-[13px]"
                style={{ gridTemplateColumns: recordTemplate }}
              >
                <span />
                {recordColumns.map((c, i) => (
                  <HeadCell
                    key={c.field}
                    column={c}
                    width={recordLeast[i]}
                    first={i === 0}
                    last={i === recordColumns.length - 1}
                    sorted={pages.stale ? undefined : brief.order?.[0]}
                    onSort={onChange && ((field, down, desc) => onChange(sortAs(brief, field, down, desc)))}
                    onEdit={
                      onChange && !pages.stale
                        ? (edit) => onChange(editColumn(brief, recordColumns, i, edit))
                        : undefined
                    }
                  />
                ))}
              </div>
            )}
          </div>
          <div role="rowgroup" style={{ height: rows.getTotalSize(), position: "relative", minWidth: width }}>
            {rows.getVirtualItems().map((item) => {
              const at = lineAt(list, item.index);
              if (!at) return null;
              if (at.record !== undefined)
                return (
                  <div
                    key={item.key}
                    role="row"
                    aria-rowindex={item.index + 2}
                    className={`absolute left-0 grid w-full border-line border-b text-[13px] leading-[28px] hover:bg-sunk ${pages.stale ? "opacity-55" : ""}`}
                    style={{
                      gridTemplateColumns: recordTemplate,
                      height: recordHeight,
                      top: item.start,
                      contain: "strict",
                    }}
                  >
                    <span />
                    <RecordCells columns={recordColumns} type={pages.first?.type ?? ""} row={pages.row(at.record)} />
                  </div>
                );
              const key = keyOf(at.group);
              return (
                <Group
                  key={item.key}
                  index={item.index}
                  line={at.group}
                  answer={answer}
                  top={item.start}
                  height={tall}
                  template={groupTemplate}
                  inView={inView}
                  look={at.group.depth === 0 ? "total" : flat || (at.group.inner && !showRecords) ? "" : "head"}
                  open={at.group.depth > 0 && (showRecords || !at.group.inner) ? !isClosed(key) : undefined}
                  onTurn={() => turn(key)}
                  onMark={onMark}
                />
              );
            })}
          </div>
        </div>
      </div>
      {answer.moreLines > 0 && (
        <button type="button" className="link px-2 py-2" onClick={onMore}>
          and {count(answer.moreLines)} more groups
        </button>
      )}
    </div>
  );
});

/** Rows and records are both counted where they differ: a record that is brought several times has several rows. */
const said = (rows: number, records: number) =>
  rows === records
    ? `${count(records)} ${records === 1 ? "record" : "records"}, all of them`
    : `${count(rows)} rows of ${count(records)} ${records === 1 ? "record" : "records"}, all of them`;

/** What stands over a column at one level of across: its group there, or that it is a subtotal. */
const columnLabel = (c: Schemas["HeadColumn"], level: number) =>
  c.labels[level] ?? (c.labels.length === level ? (level === 0 ? "All" : "together") : "");

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

function Group({
  index,
  line,
  answer,
  top,
  height,
  template,
  inView,
  look,
  open,
  onTurn,
  onMark,
}: {
  index: number;
  line: GroupLine;
  answer: Answer;
  top: number;
  height: number;
  template: string;
  inView?: React.CSSProperties;
  look: "total" | "head" | "";
  /** Whether what stands under it is shown; nothing where there is nothing. */
  open?: boolean;
  onTurn: () => void;
  onMark: (m: Mark, words: string) => void;
}) {
  const { columns, summaries } = answer;
  const say = (c: Schemas["HeadColumn"]) => [line.label, ...c.labels].join(", ");
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`absolute left-0 w-full border-line border-b ${look === "total" ? "border-ink border-t bg-paper font-bold" : look === "head" ? "bg-sunk font-semibold" : "bg-paper"}`}
      style={{ height, top }}
    >
      <div role="presentation" className="grid bg-[inherit]" style={{ gridTemplateColumns: template, ...inView }}>
        <div
          role="rowheader"
          className="sticky left-0 z-[1] truncate bg-[inherit] px-2 py-1.5 text-left"
          title={line.label}
          style={{ paddingLeft: 8 + Math.max(0, line.depth - 1) * 18 }}
        >
          {open !== undefined && (
            <button
              type="button"
              className="mr-1 inline-block w-5 text-center text-ink2"
              aria-expanded={open}
              aria-label={`${open ? "Close" : "Open"} ${line.label}`}
              onClick={onTurn}
            >
              {open ? "▾" : "▸"}
            </button>
          )}
          {line.label}
        </div>
        {columns.map((c, ci) =>
          summaries.map((s, si) => (
            <div key={`${keyOf(c)} ${s.key}`} role="cell" className="whitespace-nowrap px-2 py-1.5 text-right">
              {line.cells[ci][si] === "" ? (
                <span className="text-ink3">–</span>
              ) : (
                <button
                  type="button"
                  className="hover:underline"
                  aria-label={`${say(c)}, ${s.label}: ${line.cells[ci][si]}`}
                  onClick={() => onMark({ rows: line.keys, across: c.keys }, say(c))}
                >
                  {line.cells[ci][si]}
                </button>
              )}
              {line.before?.[ci]?.[si] && (
                <span
                  className={`block text-xs font-normal ${line.before[ci][si].way > 0 ? "text-sea" : line.before[ci][si].way < 0 ? "text-rust" : "text-ink3"}`}
                  title={`${line.before[ci][si].before || "nothing"} in ${answer.compared}`}
                >
                  {line.before[ci][si].text || (line.before[ci][si].before ? `was ${line.before[ci][si].before}` : "–")}
                </span>
              )}
            </div>
          )),
        )}
      </div>
    </div>
  );
}
