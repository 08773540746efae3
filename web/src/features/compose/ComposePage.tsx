import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, Refused, type Report, type Schemas } from "../../api/client";
import {
  useAnswer,
  useBoards,
  useExplained,
  useFiltersSaid,
  useFolders,
  useMe,
  useReport,
  useSchema,
} from "../../api/hooks";
import { idle } from "../../api/idle";
import { anew } from "../../api/keys";
import type { Filters } from "../../api/panels";
import { useDraft } from "../../api/useDraft";
import { begin } from "../../brief/edits";
import { narrowed } from "../../brief/parts";
import { changedBy, difference, fromAddress, held } from "../../brief/reading";
import { Sentence } from "../../brief/Sentence";
import { typeOf } from "../../fields/fields";
import { later } from "../../ui/later";
import { Trouble } from "../../ui/Say";
import { UndoRedo } from "../../ui/UndoRedo";
import { same, useSteps } from "../../ui/useSteps";
import { useBehind } from "../behind/useBehind";
import { AskedFirst } from "./AskedFirst";
import { Export } from "./Export";
import { PlaceMenu } from "./PlaceMenu";
import { Reading } from "./Reading";
import { ReportMenu } from "./ReportMenu";
import { Result } from "./Result";
import { Sift } from "./Sift";
import { Warnings } from "./Warnings";

type Draft = Schemas["DraftBody"];

/** Composes a report: a new one from a record type, or a kept one. Work not saved yet is a draft on the server. */
export function ComposePage() {
  const { start, id } = useParams();
  const [params] = useSearchParams();
  const report = useReport(id ? Number(id) : undefined);
  const schema = useSchema();
  const me = useMe().data;
  const drafts = useQuery({
    queryKey: ["drafts"],
    queryFn: () => ask(api.GET("/api/drafts")),
    enabled: !!me?.mayKeep,
    staleTime: 0,
    gcTime: 0,
  });
  if (report.error) return <Trouble error={report.error} />;
  if (!schema || !me || (id && !report.data) || (me.mayKeep && !drafts.data)) return null;
  const draft = drafts.data?.find((d) => (id ? d.report === Number(id) : d.id === Number(params.get("draft"))));
  const given = params.get("brief");
  const first = draft?.brief ?? fromAddress(given) ?? report.data?.brief ?? (start ? begin(start) : undefined);
  if (!first || (first.start && !typeOf(schema, first.start))) return <p>There is no record type “{start}”.</p>;
  return (
    <Compose key={`${id ?? start} ${params.get("draft") ?? ""}`} report={report.data} draft={draft} first={first} />
  );
}

function Compose({ report, draft, first }: { report?: Report; draft?: Draft; first: Brief }) {
  const me = useMe().data;
  const edits = useSteps(held(first, report));
  const changed = !report || !same(report.brief, edits.now);
  const onMade = useCallback(
    (d: Draft) => {
      // The address names the draft for a reload, without composing beginning anew.
      const board = new URLSearchParams(location.search).get("board");
      if (!report)
        window.history.replaceState(window.history.state, "", `?draft=${d.id}${board ? `&board=${board}` : ""}`);
    },
    [report],
  );
  const saved = useDraft({
    on: !!me?.mayKeep && changed,
    value: edits.now,
    first: draft,
    put: (brief, was, keepalive) =>
      ask(
        api.PUT("/api/drafts", {
          keepalive,
          body: {
            ...(was ? { id: was.id, revision: was.revision } : {}),
            ...(report ? { report: report.id, version: report.version } : {}),
            brief: brief as Brief,
          },
        }),
      ),
    remove: (was) => ask(api.DELETE("/api/drafts/{id}", { params: { path: { id: was.id } } })),
    onMade,
  });
  const at = saved.savedAt && changed ? `draft saved ${clock(saved.savedAt)}` : undefined;
  return (
    <Page
      report={report}
      brief={edits.now}
      onChange={(b) => edits.dispatch({ do: "set", now: held(b, report) })}
      note={at}
      trouble={saved.trouble}
      drop={saved.drop}
      composing
      tools={<UndoRedo edits={edits} />}
    />
  );
}

/** Reads a kept report. What is changed here is for this reading only and stands in the address. */
export function ReadPage() {
  const { id } = useParams();
  const report = useReport(Number(id));
  const [params, setParams] = useSearchParams();
  useEffect(() => {
    if (report.data)
      void ask(api.PUT("/api/opened/{kind}/{id}", { params: { path: { kind: "report", id: report.data.id } } })).catch(
        () => undefined,
      );
  }, [report.data]);
  const text = params.get("reading");
  const [answered, setAnswered] = useState(text !== null);
  if (report.error) return <Gone error={report.error} />;
  const r = report.data;
  if (!r) return null;
  const brief = held(changedBy(r.brief, fromAddress(text)), r);
  const set = (changed: Brief) => {
    const carried = difference(r.brief, held(changed, r));
    setParams(Object.keys(carried).length ? { reading: JSON.stringify(carried) } : {}, { replace: false });
  };
  if (!answered && asks(r.brief))
    return (
      <AskedFirst
        report={r}
        onAnswer={(b) => {
          setAnswered(true);
          set(b);
        }}
      />
    );
  return (
    <Page key={r.id} report={r} brief={brief} onChange={set} reading={text !== null} onReset={() => setParams({})} />
  );
}

const asks = (b: Brief): boolean => JSON.stringify(b.filter ?? {}).includes('"ask":true');

function Gone({ error }: { error: unknown }) {
  return (
    <div className="mx-auto mt-12 max-w-[520px]">
      <Trouble error={error} />
      <p className="mt-3 text-ink2">
        A report that was deleted lately can be brought back from{" "}
        <Link className="link" to="/find?deleted=true">
          recently deleted
        </Link>
        .
      </p>
    </div>
  );
}

// What only some readings come to is loaded when it is opened.
const KeepDialog = later(() => import("./KeepDialog").then((m) => m.KeepDialog));
const StylePanel = later(() => import("./StylePanel").then((m) => m.StylePanel));
const Trying = later(() => import("../boards/Trying").then((m) => m.Trying));
const Moved = later(() => import("../moved/Moved").then((m) => m.Moved));
const Why = later(() => import("./Why").then((m) => m.Why));

const clock = (s: number) => new Date(s * 1000).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

/** The page of a report, read or composed: its sentence, what its conditions do, its result. */
function Page({
  report,
  brief,
  onChange,
  note,
  trouble,
  drop,
  composing,
  reading,
  onReset,
  tools,
}: {
  report?: Report;
  brief: Brief;
  onChange: (b: Brief) => void;
  note?: string;
  trouble?: Refused;
  drop?: () => Promise<void>;
  composing?: boolean;
  reading?: boolean;
  onReset?: () => void;
  tools?: React.ReactNode;
}) {
  const schema = useSchema();
  const me = useMe().data;
  const folders = useFolders().data ?? [];
  const client = useQueryClient();
  const go = useNavigate();
  const [lines, setLines] = useState(500);
  const [keeping, setKeeping] = useState<"new" | "change" | "details">();
  const [why, setWhy] = useState(false);
  const moved = useBehind<true>("moved");
  const [further, setFurther] = useState(false);
  const [styling, setStyling] = useState(false);
  const boards = useBoards().data ?? [];
  const begunFor = new URLSearchParams(location.search).get("board");
  const home = boards.find((b) => String(b.id) === begunFor);
  const answer = useAnswer(brief, lines);
  const [tried, setTried] = useState<Filters>();
  const under = useFiltersSaid(tried ?? {}, tried && brief)?.under?.brief;
  const triedAnswer = useAnswer(under, lines);
  const result = under ? triedAnswer : answer;
  const explained = useExplained(brief, !answer.isFetching);
  // Who composes will save, and most likely draw: both are there by then.
  useEffect(() => {
    if (!composing) return;
    idle(() => {
      for (const part of [KeepDialog, StylePanel]) part.ready().catch(() => undefined);
    });
  }, [composing]);
  if (!schema || !me) return null;
  const changed = !report || !same(report.brief, brief);
  const folder = folders.find((f) => f.id === report?.folder);
  const problem = answer.error instanceof Refused ? answer.error : undefined;
  const mayChange = report ? report.mayChange : me.mayKeep;
  // Who may not change it keeps a reading of it as a report of their own.
  const mayCopy = !mayChange && reading && me.mayKeep;

  return (
    <>
      <header className="mb-1.5 flex flex-wrap items-start gap-x-2 gap-y-1 print:hidden">
        <div className="mr-auto min-w-[220px] flex-1">
          <p className="truncate text-[12px] text-ink2 leading-4">
            <Link to="/find" className="hover:underline">
              Find
            </Link>
            {folder && ` / ${folder.name}`}
            {report && ` · ${report.owner}`}
            {note && ` · ${note}`}
          </p>
          <h1 className="title truncate text-[21px] leading-7" title={report?.title}>
            {report?.title ?? "New report"}
          </h1>
          {report?.description && (
            <p className="truncate text-[13px] text-ink2" title={report.description}>
              {report.description}
            </p>
          )}
        </div>
        {tools}
        {!composing && !further && (
          <button type="button" className="btn btn-quiet" onClick={() => setFurther(true)}>
            Change for this reading
          </button>
        )}
        <Export brief={brief} report={report} />
        {report && <PlaceMenu report={report} />}
        <ReportMenu
          report={report}
          brief={brief}
          sentence={answer.data?.text ?? ""}
          onChange={onChange}
          onName={() => setKeeping("details")}
          onAnother={() => setKeeping("new")}
          onTry={() => setTried((home?.filters ?? {}) as Filters)}
          onThrow={
            composing && report && changed
              ? async () => {
                  await drop?.();
                  onChange(report.brief);
                  go(`/reports/${report.id}`);
                }
              : undefined
          }
        />
        {!composing && mayChange && report && !reading && (
          <Link className="btn btn-main" to={`/reports/${report.id}/edit`}>
            Change report
          </Link>
        )}
        {mayCopy && (
          <button type="button" className="btn btn-main" onClick={() => setKeeping("new")}>
            Save as my own
          </button>
        )}
        {mayChange && (composing || reading) && (
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
      {reading && report && <Reading was={report.brief} now={brief} onReset={onReset} />}
      {trouble && <Trouble error={trouble} />}
      {answer.data && (
        <Sentence
          schema={schema}
          brief={brief}
          clauses={answer.data.sentence}
          inviting={!!composing || further}
          onChange={onChange}
          onStyle={() => setStyling(!styling)}
        />
      )}
      {problem && (
        <div className="my-2">
          <Trouble error={problem} />
          {!answer.data && (
            <button type="button" className="btn mt-2" onClick={() => onChange(begin(brief.start ?? ""))}>
              Begin again
            </button>
          )}
        </div>
      )}
      {answer.data && (
        <div className="strip">
          {narrowed(brief).map(
            (has, i) =>
              has && (
                <Sift
                  // biome-ignore lint/suspicious/noArrayIndexKey: one strip a part
                  key={i}
                  brief={brief}
                  steps={explained.data?.sift[i]}
                  part={i}
                />
              ),
          )}
          {explained.data && (
            <Warnings list={explained.data.warnings} report={report} composing={composing} onChange={onChange} />
          )}
          <span className="ml-auto flex flex-wrap gap-x-4">
            {!brief.parts && !brief.bring && (
              <button type="button" className="link min-h-6 py-1" onClick={() => moved.open(true)}>
                What moved?
              </button>
            )}
            <button type="button" className="link min-h-6 py-1" onClick={() => setWhy(true)}>
              Why is it not here?
            </button>
          </span>
        </div>
      )}
      {tried && (
        <Trying
          schema={schema}
          brief={brief}
          first={home?.id}
          value={tried}
          onChange={setTried}
          onLeave={() => setTried(undefined)}
        />
      )}
      {result.data && (
        <Result
          answer={result.data}
          brief={under ?? brief}
          report={report}
          shown={report?.shown}
          shownFixed={report?.shownFixed && !report.mayChange}
          stale={result.isPlaceholderData}
          styling={styling && <StylePanel brief={brief} onChange={onChange} onDone={() => setStyling(false)} />}
          // What the dashboard narrows is never written into the report.
          onChange={(b) =>
            onChange(
              under ? { ...b, whose: brief.whose, period: brief.period, filter: brief.filter, parts: brief.parts } : b,
            )
          }
          onMore={() => setLines(lines * 4)}
          onStop={() => client.cancelQueries({ queryKey: ["answer", brief] })}
        />
      )}
      {!answer.data && answer.isPending && <p className="text-ink2">Working it out …</p>}
      {moved.picked && <Moved schema={schema} brief={brief} today={me.today} onClose={moved.close} />}
      {why && <Why brief={brief} type={brief.start ?? ""} onClose={() => setWhy(false)} />}
      {keeping && (
        <KeepDialog
          report={keeping === "new" ? undefined : report}
          from={report}
          brief={keeping === "details" && report ? report.brief : brief}
          suggestion={answer.data?.title ?? ""}
          board={keeping === "new" ? home?.title : undefined}
          onClose={() => setKeeping(undefined)}
          onKept={async (kept) => {
            const details = keeping === "details";
            setKeeping(undefined);
            if (!details) await drop?.();
            client.setQueryData(["report", kept.id], kept);
            anew(client, "reports");
            anew(client, "find");
            toast(`Saved “${kept.title}”`);
            if (!details) go(home && keeping === "new" ? `/dashboards/${home.id}` : `/reports/${kept.id}`);
          }}
        />
      )}
    </>
  );
}
