import { useCallback, useEffect, useRef, useState } from "react";
import type { Answer, Brief, Mark, Report, Schemas } from "../../api/client";
import { Chart } from "../../chart/Chart";
import { isFigure } from "../../chart/kinds";
import { Towards } from "../../chart/Towards";
import { Table } from "../../table/Table";
import { count } from "../../ui/figures";
import { letterOf } from "../../ui/letters";
import { Seg } from "../../ui/Seg";
import { BehindList, type Marks } from "../behind/Behind";
import { useBehind } from "../behind/useBehind";
import { Unrated } from "./Unrated";

/** Whether something has lasted for more than a moment. */
function useSlow(on: boolean) {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    if (!on) return setSlow(false);
    const timer = setTimeout(() => setSlow(true), 500);
    return () => clearTimeout(timer);
  }, [on]);
  return slow;
}

type View = "groups" | "both" | "records";

/** What has the whole width; nothing where chart and table stand side by side. */
type Wide = "" | "chart" | "groups" | "list";

const wideKeys: Record<string, Wide> = { s: "", c: "chart", g: "groups", l: "list" };

/** The whole result of a brief: drawing, groups and records. What is older than the brief looks so. */
export function Result({
  answer,
  brief,
  report,
  shown,
  shownFixed,
  stale,
  styling,
  onChange,
  onMore,
  onStop,
}: {
  answer: Answer;
  brief: Brief;
  /** The kept report that it is of. */
  report?: Report;
  /** The columns of the records behind a number, where the report has its own. */
  shown?: Schemas["Column"][];
  shownFixed?: boolean;
  stale: boolean;
  /** The editor of the chart's style, which stands where the table stood. */
  styling?: React.ReactNode;
  onChange: (b: Brief) => void;
  onMore: () => void;
  onStop: () => void;
}) {
  const slow = useSlow(stale);
  const grouped = answer.groups.length > 0;
  const drawn = brief.chart?.kind === "table" ? false : grouped || isFigure(brief.chart?.kind);
  const [records, setRecords] = useState(false);
  const [wide, setWide] = useState<Wide>("");
  useEffect(() => {
    if (!grouped) return;
    const key = (e: KeyboardEvent) => {
      const next = wideKeys[letterOf(e) ?? ""];
      if (next === undefined) return;
      setWide(next);
      setRecords(next === "list");
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [grouped]);
  const { picked: opened, open: openBehind, close: closeBehind } = useBehind<Marks & { of: string }>("behind");
  // What was picked of other groups is no longer there to be seen.
  const of = JSON.stringify([brief.groups, brief.across, brief.parts?.length]);
  const picked = opened?.of === of ? opened : undefined;
  const asStyled = styling || picked ? "" : wide;
  const view: View = records || !grouped ? "records" : brief.totalsOnly ? "groups" : "both";
  // What is drawn is drawn anew for another answer only, not for each edit on the way to one.
  const pick = useRef((_: Mark[], __: string) => {});
  pick.current = (marks, words) => openBehind({ marks, words, of });
  const open = useCallback((marks: Mark[], words: string) => pick.current(marks, words), []);
  const openOne = useCallback((mark: Mark, words: string) => open([mark], words), [open]);
  const further = useRef(onMore);
  further.current = onMore;
  const more = useCallback(() => further.current(), []);
  const choose = (v: View) => {
    setRecords(v === "records");
    if (v === "records") return;
    const { totalsOnly: _, ...rest } = brief;
    onChange(v === "groups" ? { ...rest, totalsOnly: true } : rest);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape is heard from all that stands in it
    <div
      className={`mt-2 ${stale ? "stale" : ""}`}
      aria-busy={stale}
      onKeyDown={(e) => {
        if (e.key === "Escape" && !e.defaultPrevented && picked && (e.target as HTMLElement).closest("main"))
          closeBehind();
      }}
    >
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <p className="mr-auto text-ink2 text-[13px] leading-7" aria-live="polite">
          <strong className="text-ink">{count(answer.records)}</strong> of {count(answer.of)} records
          {answer.unseen && ` · ${answer.unseen}`}
          {answer.unrated && (
            <>
              {" · "}
              {answer.unrated}
              {!brief.parts && <Unrated brief={brief} />}
            </>
          )}
          {!grouped &&
            (answer.summaries.length > 1 || brief.summaries) &&
            answer.lines[0]?.cells[0]?.map((text, i) => (
              <span key={answer.summaries[i].key}>
                {" · "}
                {answer.summaries[i].label} <strong className="text-ink">{text || "–"}</strong>
              </span>
            ))}
          {slow && (
            <span className="ml-3">
              still working it out{" "}
              <button type="button" className="link" onClick={onStop}>
                Stop
              </button>
            </span>
          )}
        </p>
        {grouped && (
          <div className="print:hidden" data-letters>
            <Seg
              label="What has the whole width; keys S, C, G and L"
              value={wide}
              onChange={(v) => {
                setWide(v);
                setRecords(v === "list");
              }}
              options={[
                ["", "Side by side"],
                ["chart", "Chart"],
                ["groups", "Groups"],
                ["list", "List"],
              ]}
            />
          </div>
        )}
      </div>
      {answer.drawing.progress && !isFigure(answer.drawing.kind) && (
        <div className="sheet mb-3 px-4 py-2.5">
          <Towards progress={answer.drawing.progress} onOpen={() => open([{ rows: [], across: [] }], "All")} />
        </div>
      )}
      <div className={drawn && !asStyled ? "grid gap-3.5 min-[1180px]:grid-cols-[5fr_6fr]" : ""}>
        {drawn && (!asStyled || asStyled === "chart") && (
          <section className={`sheet min-w-0 p-4 ${grouped ? "" : "self-start"}`} aria-label="Chart">
            <h2 className="title mb-3 text-[15px]">{answer.drawing.title}</h2>
            <Chart
              drawing={answer.drawing}
              share={brief.chart?.measure === "share"}
              height={asStyled ? "calc(100vh - 330px)" : 400}
              onMark={open}
            />
          </section>
        )}
        {styling && (
          <section className="sheet min-w-0 p-4" aria-label="Style of the chart">
            {styling}
          </section>
        )}
        {picked && !styling && (
          <section className="sheet min-w-0 p-4" aria-label="Behind">
            <div className="mb-1 flex items-start gap-3">
              <h2 className="title mr-auto text-[17px]" aria-live="polite">
                Behind {picked.words}
              </h2>
              <button type="button" className="btn" onClick={closeBehind}>
                Close
              </button>
            </div>
            <p className="mb-2 truncate text-[13px] text-ink2" title={answer.text}>
              Only {picked.words}, of: {answer.text}
            </p>
            <BehindList
              key={JSON.stringify(picked.marks)}
              brief={brief}
              sentence={answer.text}
              report={report}
              shown={shown}
              fixed={shownFixed}
              picked={picked}
              height={440}
            />
          </section>
        )}
        <section
          className="sheet min-w-0 p-3"
          aria-label="Table"
          hidden={!!styling || !!picked || asStyled === "chart"}
        >
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
            <Table brief={brief} height={grouped && !wide ? 430 : "calc(100vh - 260px)"} onChange={onChange} />
          ) : (
            <Table
              answer={answer}
              brief={brief}
              details={view === "both"}
              height={wide ? "calc(100vh - 300px)" : 500}
              onMark={openOne}
              onMore={more}
              onChange={onChange}
            />
          )}
        </section>
      </div>
    </div>
  );
}
