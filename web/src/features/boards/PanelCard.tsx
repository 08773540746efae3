import { Link } from "react-router";
import { type Brief, type Mark, Refused } from "../../api/client";
import { useAnswer, useReport } from "../../api/hooks";
import { Chart } from "../chart/Chart";
import { GroupTable } from "../compose/GroupTable";
import { RecordTable } from "../compose/RecordTable";

export type Picked = { brief: Brief; sentence: string; mark: Mark; words: string };

/** One report, placed: its heading, its sentence and its chart, or its table where it has no groups. */
export function PanelCard({
  report,
  brief,
  words,
  handle,
  onPick,
}: {
  report: number;
  brief?: Brief;
  words?: string;
  handle?: React.ReactNode;
  onPick: (p: Picked) => void;
}) {
  const kept = useReport(report);
  const asked = brief ?? kept.data?.brief;
  const answer = useAnswer(asked);
  const error = kept.error ?? answer.error;
  const a = answer.data;
  return (
    <article className="sheet flex h-full min-h-0 flex-col p-3.5" aria-label={kept.data?.title ?? "Panel"}>
      <div className="flex items-start gap-2">
        <h2 className="title mr-auto min-w-0 truncate text-[15px]">
          <Link to={`/reports/${report}`} className="hover:underline">
            {kept.data?.title ?? "…"}
          </Link>
          {words && <span className="ml-2 font-normal text-[13px] text-ink2">{words}</span>}
        </h2>
        {handle}
      </div>
      {a && (
        <p className="mb-1 truncate text-ink2 text-xs" title={a.text}>
          {a.text}
        </p>
      )}
      {error && (
        <p role="alert" className="py-4 text-ink2">
          {error instanceof Refused && error.status === 404
            ? "This report is not open to you, or no longer there."
            : "This panel could not be worked out. The others are not affected."}
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto">
        {a &&
          asked &&
          (a.groups.length === 0 ? (
            <RecordTable brief={asked} height={220} />
          ) : asked.chart ? (
            <Chart
              drawing={a.drawing}
              share={asked.chart.measure === "share"}
              height="100%"
              onMark={(mark, say) => onPick({ brief: asked, sentence: a.text, mark, words: say })}
            />
          ) : (
            <GroupTable
              answer={a}
              type={asked.start ?? ""}
              details={false}
              onMore={() => {}}
              onMark={(mark, say) => onPick({ brief: asked, sentence: a.text, mark, words: say })}
            />
          ))}
      </div>
    </article>
  );
}
