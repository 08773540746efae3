import { memo, startTransition, useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Answer, Mark, Schemas } from "../../api/client";
import { NotYours } from "../../ui/Say";

type Line = Schemas["GroupLine"];

const same = (a: Line | undefined, b: Line | undefined) => a?.keys.join("\n") === b?.keys.join("\n");

/**
 * How many lines a table shows at once: what is in view, groups with their records being taller; fewer where a line has
 * many cells. The others follow as soon as those are painted.
 */
const inView = (records: boolean, cells: number) => (records ? 6 : Math.max(6, Math.min(24, Math.floor(120 / cells))));

/** The groups with their subtotals and the grand total; every number opens the records behind it. */
export const GroupTable = memo(function GroupTable({
  answer,
  type,
  details,
  onMark,
  onMore,
}: {
  answer: Answer;
  type: string;
  details: boolean;
  onMark: (m: Mark, words: string) => void;
  onMore: () => void;
}) {
  const { columns, summaries, lines } = answer;
  const rowFields = answer.groups.filter((g) => !g.across);
  const across = answer.groups.filter((g) => g.across);
  const showRecords = details && answer.details.length > 0 && across.length === 0;
  const atOnce = inView(showRecords, columns.length * summaries.length);
  const [shown, setShown] = useState({ lines, count: atOnce, more: answer.moreLines });
  // More of the same groups join those that stand there already; others begin anew.
  const further = shown.more > 0 && shown.lines.length < lines.length && same(shown.lines[0], lines[0]);
  const count = shown.lines === lines ? shown.count : further ? shown.lines.length : atOnce;
  useEffect(() => {
    if (count >= lines.length) return;
    const frame = requestAnimationFrame(() => startTransition(() => setShown({ lines, count: count * 4, more: answer.moreLines })));
    return () => cancelAnimationFrame(frame);
  }, [lines, count, answer.moreLines]);
  const act = useRef(onMark);
  act.current = onMark;
  const mark = useCallback((m: Mark, words: string) => act.current(m, words), []);
  // With a single summary its name need not stand over every column.
  const merged = across.length > 0 && summaries.length === 1;
  return (
    <div className="overflow-auto" style={{ maxHeight: 560 }}>
      <table className="w-full border-collapse" aria-label="Groups">
        <thead className="sticky top-0 z-10 bg-paper">
          {across.length > 0 &&
            (merged ? across.slice(0, -1) : across).map((_, level) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: one line a level
              <tr key={level}>
                <th className="th sticky left-0 bg-paper" />
                {columns.map((c) => (
                  <th key={c.keys.join("\n")} colSpan={summaries.length} className="th border-line border-l px-2 py-1 text-right">
                    {columnLabel(c, level)}
                  </th>
                ))}
              </tr>
            ))}
          <tr className="border-ink border-b">
            <th scope="col" className="th sticky left-0 bg-paper px-2 py-1.5">
              {rowFields.map((g) => cap(g.label)).join(", then ")}
            </th>
            {columns.map((c) =>
              summaries.map((s) => (
                <th key={`${c.keys.join("\n")} ${s.key}`} scope="col" className="th px-2 py-1.5 !text-right">
                  {merged ? columnLabel(c, across.length - 1) || "All" : s.label}
                </th>
              )),
            )}
          </tr>
        </thead>
        <tbody>
          {lines.slice(0, count).map((line) => (
            <Lines
              key={line.keys.join("\n") || "all"}
              {...{ line, answer, type, showRecords, onMark: mark }}
              flat={rowFields.length <= 1 && !showRecords}
            />
          ))}
        </tbody>
      </table>
      {answer.moreLines > 0 && (
        <button type="button" className="link px-2 py-2" onClick={onMore}>
          and {answer.moreLines.toLocaleString("en")} more groups
        </button>
      )}
    </div>
  );
});

/** What stands over a column at one level of across: its group there, or that it is a subtotal. */
const columnLabel = (c: Schemas["HeadColumn"], level: number) =>
  c.labels[level] ?? (c.labels.length === level ? (level === 0 ? "All" : "together") : "");

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

const Lines = memo(function Lines({
  line,
  answer,
  type,
  showRecords,
  flat,
  onMark,
}: {
  line: Line;
  answer: Answer;
  type: string;
  showRecords: boolean;
  flat: boolean;
  onMark: (m: Mark, words: string) => void;
}) {
  const { columns, summaries } = answer;
  const total = line.depth === 0;
  const width = columns.length * summaries.length + 1;
  // The columns that say something in a group: not those it is grouped by, and no more than there is room for.
  const told = answer.details
    .map((c, i) => ({ c, i }))
    .filter(({ c, i }) => i === 0 || !answer.groups.some((g) => g.field === c.field))
    .slice(0, 4);
  const say = (c: Schemas["HeadColumn"]) => [line.label, ...c.labels].join(", ");
  return (
    <>
      <tr
        className={`border-line border-b bg-paper ${total ? "border-ink border-t font-bold" : flat ? "" : line.inner && !showRecords ? "" : "!bg-sunk font-semibold"}`}
      >
        <th
          scope="row"
          className="sticky left-0 whitespace-nowrap bg-[inherit] px-2 py-1.5 text-left font-[inherit]"
          style={{ paddingLeft: 8 + Math.max(0, line.depth - 1) * 18 }}
        >
          {line.label}
        </th>
        {columns.map((c, ci) =>
          summaries.map((s, si) => (
            <td key={`${c.keys.join("\n")} ${s.key}`} className="whitespace-nowrap px-2 py-1.5 text-right">
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
            </td>
          )),
        )}
      </tr>
      {showRecords && line.inner && line.detail.length > 0 && (
        <tr className="border-line border-b">
          <td colSpan={width} className="p-0">
            <table className="w-full table-fixed" aria-label={`Records of ${line.label}`}>
              <tbody>
                {line.detail.map((row) => (
                  <tr key={row.id} className="border-line border-b last:border-0">
                    {told.map(({ c, i }) => (
                      <td
                        key={c.field}
                        title={row.cells[i].text}
                        className={`truncate px-2 py-1 text-[13px] ${c.number ? "text-right" : ""}`}
                        style={i === 0 ? { paddingLeft: 8 + line.depth * 18, width: "34%" } : undefined}
                      >
                        {row.cells[i].hidden ? (
                          <NotYours />
                        ) : i === 0 ? (
                          <Link className="link" to={`/records/${type}/${row.id}`}>
                            {row.cells[i].text || `number ${row.id}`}
                          </Link>
                        ) : (
                          row.cells[i].text
                        )}
                      </td>
                    ))}
                  </tr>
                ))}
                {line.more > 0 && (
                  <tr>
                    <td colSpan={told.length} className="px-2 py-1 text-[13px]" style={{ paddingLeft: 8 + line.depth * 18 }}>
                      <button type="button" className="link" onClick={() => onMark({ rows: line.keys, across: [] }, line.label)}>
                        and {line.more.toLocaleString("en")} more
                      </button>
                    </td>
                  </tr>
                )}
              </tbody>
            </table>
          </td>
        </tr>
      )}
    </>
  );
});
