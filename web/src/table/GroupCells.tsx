import type { Answer, Mark, Schemas } from "../api/client";
import { type GroupLine, keyOf } from "./outline";

/** The values of a group under its summaries' headers; each opens the records behind it. */
export function GroupCells({
  line,
  answer,
  onMark,
}: {
  line: GroupLine;
  answer: Answer;
  onMark?: (m: Mark, words: string) => void;
}) {
  const { columns, summaries } = answer;
  const say = (c: Schemas["HeadColumn"]) => [line.label, ...c.labels].join(", ");
  return columns.map((c, ci) =>
    summaries.map((s, si) => (
      <div key={`${keyOf(c)} ${s.key}`} role="cell" className="whitespace-nowrap px-2 py-1.5 text-right">
        {line.cells[ci][si] === "" ? (
          <span className="text-ink3">–</span>
        ) : (
          <button
            type="button"
            className="hover:underline"
            aria-label={`${say(c)}, ${s.label}: ${line.cells[ci][si]}`}
            onClick={() => onMark?.({ rows: line.keys, across: c.keys }, say(c))}
          >
            {line.cells[ci][si]}
          </button>
        )}
        <Change before={line.before?.[ci]?.[si]} compared={answer.compared} />
      </div>
    )),
  );
}

/** How a value has changed since the period that it is compared with. */
function Change({
  before: b,
  compared,
}: {
  before?: NonNullable<GroupLine["before"]>[number][number];
  compared?: string;
}) {
  if (!b) return null;
  return (
    <span
      className={`block text-xs font-normal ${b.way > 0 ? "text-sea" : b.way < 0 ? "text-rust" : "text-ink3"}`}
      title={`${b.before || "nothing"} in ${compared}`}
    >
      {b.text || (b.before ? `was ${b.before}` : "–")}
    </span>
  );
}
