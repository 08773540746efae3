import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, type Schemas } from "../../api/client";
import { may, useBoards, useMe, useReports, useSchema, useStarters } from "../../api/hooks";
import { startOf } from "../../brief/edits";
import { TypedSentence } from "../../brief/TypedSentence";
import { JSONFile } from "../../ui/JSONFile";
import { Empty, Trouble } from "../../ui/Say";
import { searched } from "../../ui/words";
import { KeepDialog } from "../compose/KeepDialog";
import { PointEditor } from "./PointEditor";
import { Thumb } from "./Thumb";

type Starter = Schemas["StarterBody"];
type Point = Schemas["PointBody"];

/** Where a brief is opened to be composed further. */
export const composeAt = (b: Brief, board?: string | null) =>
  `/reports/new/${startOf(b) || "deals"}?brief=${encodeURIComponent(JSON.stringify(b))}${board ? `&board=${board}` : ""}`;

/** Where a report begins: a typed sentence, a record type, a starting point, a starter, a report there is, or a file. */
export function NewPage() {
  const schema = useSchema();
  const me = useMe().data;
  const go = useNavigate();
  // A report that is begun on a dashboard comes back to it.
  const board = useSearchParams()[0].get("board");
  const home = (useBoards().data ?? []).find((b) => String(b.id) === board);
  const [search, setSearch] = useState("");
  const [keeping, setKeeping] = useState<Starter>();
  const [point, setPoint] = useState<Point | "new">();
  const file = useRef<HTMLInputElement>(null);
  const starters = useStarters();
  const points = useQuery({ queryKey: ["points"], queryFn: () => ask(api.GET("/api/starting-points")) });
  const reports = useReports();
  if (!schema || !me) return null;
  const has = searched(search);
  const found = (starters.data ?? []).filter((s) => has(s.title, s.about, s.text, s.category));
  const categories = [...new Set(found.map((s) => s.category))];
  const kept = search.trim()
    ? (reports.data ?? []).filter((r) => has(r.title, r.description, r.text)).slice(0, 12)
    : [];

  const read = async (f: File) => {
    try {
      const whole = JSON.parse(await f.text()) as { brief?: Brief } & Brief;
      go(composeAt(whole.brief ?? whole, board));
    } catch {
      toast.error(`“${f.name}” is no brief: it cannot be read as JSON.`);
    }
  };

  return (
    <>
      <header className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">New report{home && ` for “${home.title}”`}</h1>
        <button type="button" className="btn" onClick={() => file.current?.click()}>
          Report from a file…
        </button>
        <JSONFile label="Report from a file" of={file} onFile={(f) => void read(f)} />
        {may(me, "lay_out") && (
          <button type="button" className="btn" onClick={() => setPoint("new")}>
            New starting point
          </button>
        )}
      </header>
      <TypedSentence onRead={(b) => go(composeAt(b, board))} />
      <section aria-label="From the beginning" className="mb-5">
        <h2 className="title mb-2 text-[15px]">Begin with nothing but the records</h2>
        <div className="flex flex-wrap gap-2">
          {schema.types.map((t) => (
            <Link key={t.key} to={`/reports/new/${t.key}${board ? `?board=${board}` : ""}`} className="btn">
              {t.label}
            </Link>
          ))}
        </div>
      </section>
      {(points.data?.length ?? 0) > 0 && (
        <section aria-label="Starting points" className="mb-5">
          <h2 className="title mb-2 text-[15px]">Starting points</h2>
          <div className="grid gap-3 md:grid-cols-2 xl:grid-cols-3">
            {points.data?.map((p) => (
              <article key={p.id} className="sheet border-l-4 border-l-[var(--sea)] p-3">
                <h3 className="flex items-center gap-2">
                  <Link className="link mr-auto text-[15px] font-semibold" to={composeAt(p.brief, board)}>
                    {p.name}
                  </Link>
                  {may(me, "lay_out") && (
                    <button type="button" className="text-ink2 text-xs hover:underline" onClick={() => setPoint(p)}>
                      Change
                    </button>
                  )}
                </h3>
                <p className="mb-2 text-ink2 text-[13px]">{p.about}</p>
                <ul className="space-y-0.5">
                  {p.questions.map((q) => (
                    <li key={q.title} className="py-0.5">
                      <Link className="link block truncate leading-6" to={composeAt(q.brief, board)} title={q.text}>
                        {q.title}
                      </Link>
                    </li>
                  ))}
                </ul>
              </article>
            ))}
          </div>
        </section>
      )}
      <section aria-label="Starters">
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <h2 className="title mr-auto text-[15px]">Starters, and reports there are</h2>
          <input
            className="input !w-72"
            type="search"
            aria-label="Find a starter or a report"
            placeholder="Find in titles and sentences"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </div>
        <Trouble error={starters.error} />
        {starters.data && found.length + kept.length === 0 && (
          <div className="sheet">
            <Empty title="Nothing has these words">Try fewer, or begin with the records above.</Empty>
          </div>
        )}
        {kept.length > 0 && (
          <ul aria-label="Reports there are" className="sheet mb-4 divide-y divide-line">
            {kept.map((r) => (
              <li key={r.id} className="px-3 py-2">
                <Link className="link font-semibold" to={composeAt(r.brief, board)}>
                  {r.title}
                </Link>
                <span className="ml-2 text-ink2 text-[13px]">a report of {r.owner}; begin from a copy</span>
              </li>
            ))}
          </ul>
        )}
        {categories.map((c) => (
          <section key={c} aria-label={`Starters: ${c}`} className="mb-4">
            <h3 className="mb-1.5 text-ink2 first-letter:uppercase">{c}</h3>
            <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3 2xl:grid-cols-4">
              {found
                .filter((s) => s.category === c)
                .map((s) => (
                  <article key={s.key} aria-label={s.title} className="sheet flex flex-col p-3">
                    <h4 className="title text-[15px]">{s.title}</h4>
                    <p className="text-ink2 text-[13px]">{s.about}</p>
                    <Thumb brief={s.brief} />
                    <div className="mt-auto flex gap-2 pt-2">
                      <Link className="btn" to={composeAt(s.brief, board)} title={s.text}>
                        Use
                      </Link>
                      {me.mayCompose && (
                        <button type="button" className="btn btn-quiet" onClick={() => setKeeping(s)}>
                          Keep as mine
                        </button>
                      )}
                    </div>
                  </article>
                ))}
            </div>
          </section>
        ))}
      </section>
      {keeping && (
        <KeepDialog
          brief={keeping.brief}
          suggestion={keeping.title}
          about={keeping.about}
          board={home?.title}
          onClose={() => setKeeping(undefined)}
          onKept={(r) => {
            setKeeping(undefined);
            toast(`Saved “${r.title}”`);
            go(home ? `/dashboards/${home.id}` : `/reports/${r.id}`);
          }}
        />
      )}
      {point && <PointEditor point={point === "new" ? undefined : point} onClose={() => setPoint(undefined)} />}
    </>
  );
}
