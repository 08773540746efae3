import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { type Brief, Refused, type Report } from "../../api/client";
import { useAnswer, useFolders, useMe, useReport, useSchema } from "../../api/hooks";
import { Trouble } from "../../ui/Say";
import { begin } from "./edits";
import { Export } from "./Export";
import { KeepDialog } from "./KeepDialog";
import { PlaceMenu } from "./PlaceMenu";
import { Result } from "./Result";
import { Sentence } from "./Sentence";
import { typeOf } from "./fields";

/** Composes a new report, or reads and changes a kept one. */
export function ComposePage() {
  const { start, id } = useParams();
  const report = useReport(id ? Number(id) : undefined);
  const schema = useSchema();
  if (report.error) return <Trouble error={report.error} />;
  if (!schema || (id && !report.data)) return null;
  if (start && !typeOf(schema, start)) return <p>There is no record type “{start}”.</p>;
  return <Compose key={id ?? start} report={report.data} start={start ?? ""} />;
}

function Compose({ report, start }: { report?: Report; start: string }) {
  const schema = useSchema();
  const me = useMe().data;
  const folders = useFolders().data ?? [];
  const client = useQueryClient();
  const go = useNavigate();
  const [brief, setBrief] = useState<Brief>(report?.brief ?? begin(start));
  const [lines, setLines] = useState(500);
  const [keeping, setKeeping] = useState<"new" | "change">();
  const answer = useAnswer(brief, lines);
  if (!schema || !me) return null;
  const changed = !report || JSON.stringify(report.brief) !== JSON.stringify(brief);
  const folder = folders.find((f) => f.id === report?.folder);
  const problem = answer.error instanceof Refused ? answer.error : undefined;

  return (
    <>
      <header className="mb-2 flex min-h-8 flex-wrap items-center gap-2">
        <p className="mr-auto text-[13px] text-ink2">
          <Link to="/reports" className="hover:underline">
            Reports
          </Link>
          {folder && <> / {folder.name}</>} / <span className="font-bold text-ink">{report?.title ?? "New report"}</span>
          {report && changed && <span> · changed, not saved</span>}
        </p>
        {report && changed && (
          <button type="button" className="btn btn-quiet" onClick={() => setBrief(report.brief)}>
            Back to as saved
          </button>
        )}
        <Export brief={brief} title={report?.title ?? answer.data?.title ?? "report"} />
        {report && <PlaceMenu report={report} />}
        {me.mayCompose && report && (
          <button type="button" className="btn" onClick={() => setKeeping("new")}>
            Save as another
          </button>
        )}
        {me.mayCompose && (!report || report.mayChange) && (
          <button
            type="button"
            className="btn btn-main"
            disabled={!!report && !changed}
            onClick={() => setKeeping(report ? "change" : "new")}
          >
            Save report
          </button>
        )}
      </header>
      {answer.data && <Sentence schema={schema} brief={brief} clauses={answer.data.sentence} onChange={setBrief} />}
      {problem && (
        <div className="my-2">
          <Trouble error={problem} />
          {!answer.data && (
            <button type="button" className="btn mt-2" onClick={() => setBrief(begin(brief.start ?? start))}>
              Begin again
            </button>
          )}
        </div>
      )}
      {answer.data && (
        <Result
          answer={answer.data}
          brief={brief}
          stale={answer.isPlaceholderData}
          onChange={setBrief}
          onMore={() => setLines(lines * 4)}
        />
      )}
      {keeping && (
        <KeepDialog
          report={keeping === "change" ? report : undefined}
          from={report}
          brief={brief}
          suggestion={answer.data?.title ?? ""}
          onClose={() => setKeeping(undefined)}
          onKept={(kept) => {
            setKeeping(undefined);
            client.setQueryData(["report", kept.id], kept);
            void client.invalidateQueries({ queryKey: ["reports"] });
            toast(`Saved “${kept.title}”`);
            go(`/reports/${kept.id}`);
          }}
        />
      )}
    </>
  );
}
