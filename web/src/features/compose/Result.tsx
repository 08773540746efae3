import { useState } from "react";
import type { Answer, Brief, Mark } from "../../api/client";
import { Seg } from "../../ui/Seg";
import { Behind } from "../behind/Behind";
import { Chart } from "../chart/Chart";
import { sortBy } from "./edits";
import { GroupTable } from "./GroupTable";
import { RecordTable } from "./RecordTable";

type View = "groups" | "both" | "records";

/** The whole result of a brief: drawing, groups and records. What is older than the brief looks so. */
export function Result({
  answer,
  brief,
  stale,
  onChange,
  onMore,
}: {
  answer: Answer;
  brief: Brief;
  stale: boolean;
  onChange: (b: Brief) => void;
  onMore: () => void;
}) {
  const grouped = answer.groups.length > 0;
  const [records, setRecords] = useState(false);
  const [picked, setPicked] = useState<{ mark: Mark; words: string }>();
  const view: View = records || !grouped ? "records" : brief.totalsOnly ? "groups" : "both";
  const open = (mark: Mark, words: string) => setPicked({ mark, words });
  const choose = (v: View) => {
    setRecords(v === "records");
    if (v === "records") return;
    const { totalsOnly: _, ...rest } = brief;
    onChange(v === "groups" ? { ...rest, totalsOnly: true } : rest);
  };
  return (
    <div className="mt-3" aria-busy={stale} style={{ opacity: stale ? 0.6 : 1 }}>
      <p className="mb-2 text-ink2 text-[13px]" aria-live="polite">
        <strong className="text-ink">{answer.records.toLocaleString("en")}</strong> of {answer.of.toLocaleString("en")} records
        {!grouped &&
          answer.lines[0]?.cells[0]?.map((text, i) => (
            <span key={answer.summaries[i].key}>
              {" · "}
              {answer.summaries[i].label} <strong className="text-ink">{text || "–"}</strong>
            </span>
          ))}
        {answer.groups.some((g) => g.overlap) && (
          <span className="ml-2 rounded bg-amber-soft px-2 py-0.5 text-ink">
            Groups share records, so they add up to more than their total.
          </span>
        )}
      </p>
      <div className={grouped ? "grid gap-3.5 xl:grid-cols-[5fr_6fr] min-[1180px]:grid-cols-[5fr_6fr]" : ""}>
        {grouped && (
          <section className="sheet min-w-0 p-4" aria-label="Chart">
            <h2 className="title mb-3 text-[15px]">{answer.drawing.title}</h2>
            <Chart drawing={answer.drawing} share={brief.chart?.measure === "share"} height={400} onMark={open} />
          </section>
        )}
        <section className="sheet min-w-0 p-3" aria-label="Table">
          {grouped && (
            <div className="mb-2">
              <Seg
                label="What the table shows"
                value={view}
                onChange={choose}
                options={[
                  ["groups", "Totals only"],
                  ["both", "Groups and records"],
                  ["records", "Records"],
                ]}
              />
            </div>
          )}
          {view === "records" ? (
            <RecordTable
              brief={brief}
              height={grouped ? 430 : "calc(100vh - 260px)"}
              onSort={(field, number) => onChange(sortBy(brief, field, number))}
            />
          ) : (
            <GroupTable answer={answer} type={brief.start ?? ""} details={view === "both"} onMark={open} onMore={onMore} />
          )}
        </section>
      </div>
      <Behind brief={brief} sentence={answer.text} picked={picked} onClose={() => setPicked(undefined)} />
    </div>
  );
}
