import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useBoards, useFolders, useMe, useSchema } from "../../api/hooks";
import { anew } from "../../api/keys";
import { Chart } from "../../chart/Chart";
import { count } from "../../ui/figures";
import { Menu, MenuItem, MenuLabel } from "../../ui/Menu";
import { Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { useDo } from "../../ui/useDo";
import { Moved } from "../moved/Moved";
import { AgainstLines, KeptLines } from "./KeptLines";
import { KeptList } from "./KeptList";

/** All results that one kept. */
export function KeptResultsPage() {
  return (
    <div className="max-w-[900px]">
      <h1 className="title mb-1 text-[26px]">Kept results</h1>
      <p className="mb-4 text-ink2">What reports said at a moment you chose. They are yours alone and never change.</p>
      <KeptList />
    </div>
  );
}

/** A result as it was when one kept it, beside what it is now where one asks for that. */
export function KeptPage() {
  const id = Number(useParams().id);
  const kept = useQuery({
    queryKey: ["kept", id],
    queryFn: () => ask(api.GET("/api/kept/{id}", { params: { path: { id } } })),
    retry: false,
  });
  if (kept.error)
    return (
      <div className="mx-auto mt-12 max-w-[520px]">
        <Trouble error={kept.error} />
        <p className="mt-3 text-ink2">
          What is kept is open to whoever kept it alone.{" "}
          <Link className="link" to="/kept">
            What you kept
          </Link>
        </p>
      </div>
    );
  return kept.data ? <Kept key={id} k={kept.data} /> : null;
}

type View = "then" | "against" | "records";

function Kept({ k }: { k: Schemas["KeptWholeBody"] }) {
  const client = useQueryClient();
  const go = useNavigate();
  const schema = useSchema();
  const me = useMe().data;
  const [params, setParams] = useSearchParams();
  const asked = params.get("show");
  const view: View = asked === "against" || asked === "records" ? asked : "then";
  const [naming, setNaming] = useState(false);
  const [deleting, setDeleting] = useState(false);
  const [moved, setMoved] = useState(false);
  const path = { params: { path: { id: k.id } } };
  const [name] = useDo(
    (to: string) => ask(api.PUT("/api/kept/{id}", { ...path, body: { name: to } })),
    () => {
      setNaming(false);
      anew(client, "kept");
    },
  );
  const [remove] = useDo(
    () => ask(api.DELETE("/api/kept/{id}", path)),
    () => {
      anew(client, "kept");
      toast("Deleted");
      go("/kept");
    },
  );
  const file = (what: "summary" | "records", format: "csv" | "xlsx") =>
    `/api/kept/${k.id}/file?view=${what}&format=${format}`;
  const drawn = k.groups.length > 0 && k.drawing.kind !== "table";
  return (
    <>
      <header className="mb-2 flex flex-wrap items-start gap-2">
        <div className="mr-auto min-w-[260px] flex-1">
          <p className="text-[12px] text-ink2">
            <Link to="/kept" className="hover:underline">
              Kept results
            </Link>
            {k.report ? (
              <>
                {" · "}
                <Link to={`/reports/${k.report}`} className="hover:underline">
                  its report
                </Link>
              </>
            ) : null}
          </p>
          {naming ? (
            <form
              onSubmit={(e) => {
                e.preventDefault();
                name(new FormData(e.currentTarget).get("name") as string);
              }}
            >
              <input
                name="name"
                className="input !w-[420px] max-w-full"
                aria-label="What it is called"
                defaultValue={k.name}
                // biome-ignore lint/a11y/noAutofocus: it was opened to be typed into
                autoFocus
                onKeyDown={(e) => e.key === "Escape" && setNaming(false)}
              />
            </form>
          ) : (
            <h1 className="title text-[21px] leading-7">{k.name}</h1>
          )}
          <p className="mt-1">
            <span className="rounded-[3px] bg-amber-soft px-1.5 py-0.5 font-semibold text-[13px]">
              As it was on {k.when}
            </span>{" "}
            <span className="text-[13px] text-ink2">
              {k.days && `${k.days} · `}
              {count(k.count)} records
              {k.unseen && ` · ${k.unseen}`}
            </span>
          </p>
        </div>
        {k.day < (me?.today ?? "") && k.brief && schema && (
          <button type="button" className="btn" onClick={() => setMoved(true)}>
            What moved since
          </button>
        )}
        <PlaceKept id={k.id} />
        <Menu label="More to do with it" className="btn" text="More…" width={240}>
          <MenuItem label="Call it something else" onPick={() => setNaming(true)} />
          <MenuLabel>As a file</MenuLabel>
          <MenuItem label="Groups, workbook (XLSX)" onPick={() => location.assign(file("summary", "xlsx"))} />
          <MenuItem label="Groups, CSV" onPick={() => location.assign(file("summary", "csv"))} />
          {k.kept > 0 && (
            <MenuItem label="Records, workbook (XLSX)" onPick={() => location.assign(file("records", "xlsx"))} />
          )}
          {k.kept > 0 && <MenuItem label="Records, CSV" onPick={() => location.assign(file("records", "csv"))} />}
          <MenuLabel>Or</MenuLabel>
          <MenuItem label="Delete…" onPick={() => setDeleting(true)} />
        </Menu>
      </header>
      {deleting && (
        <div role="alert" className="mb-3 flex items-center gap-3 rounded bg-amber-soft px-3 py-2">
          <span className="mr-auto">It is deleted for good: nothing else has these numbers as they were.</span>
          <button type="button" className="btn btn-quiet" onClick={() => setDeleting(false)}>
            Not now
          </button>
          <button type="button" className="btn" onClick={() => remove()}>
            Delete for good
          </button>
        </div>
      )}
      <p className="sentence mb-3">{k.text}</p>
      <div className="mb-3 flex">
        <Seg
          label="What is shown"
          value={view}
          onChange={(v) => setParams(v === "then" ? {} : { show: v }, { replace: true })}
          options={[
            ["then", "As it was"],
            ["against", "Beside today"],
            ...(k.type ? ([["records", `Its records, ${count(k.kept)}`]] as [View, string][]) : []),
          ]}
        />
      </div>
      {view === "then" && (
        <div className={drawn ? "grid gap-3.5 min-[1180px]:grid-cols-[5fr_6fr]" : ""}>
          {drawn && (
            <section className="sheet min-w-0 p-4" aria-label="Chart">
              <Chart drawing={k.drawing} height={400} />
            </section>
          )}
          <section className="sheet min-w-0 self-start p-4" aria-label="Table">
            <KeptLines
              name="As it was"
              groups={k.groups}
              heads={k.summaries}
              lines={k.lines}
              cells={(l) => l.values.map((v) => v || "–")}
            />
            {k.left > 0 && <p className="mt-2 text-[13px] text-ink2">{count(k.left)} more groups were not kept.</p>}
          </section>
        </div>
      )}
      {view === "against" && <Against id={k.id} when={k.when} days={k.days} />}
      {view === "records" && <Records k={k} />}
      {moved && schema && me && k.brief && (
        <Moved schema={schema} brief={{ ...k.brief, since: k.day }} today={me.today} onClose={() => setMoved(false)} />
      )}
    </>
  );
}

function Against({ id, when, days }: { id: number; when: string; days?: string }) {
  const against = useQuery({
    queryKey: ["kept against", id],
    queryFn: () => ask(api.GET("/api/kept/{id}/against", { params: { path: { id } } })),
    retry: false,
  });
  if (!against.data)
    return against.error ? <Trouble error={against.error} /> : <p className="text-ink2">Working it out …</p>;
  return (
    <section className="sheet min-w-0 overflow-x-auto p-4" aria-label="Beside today">
      <p className="mb-2 text-[13px] text-ink2">
        Then is {when}, now is this moment{days ? `; both are over ${days}` : ""}.
      </p>
      <AgainstLines against={against.data} />
    </section>
  );
}

const page = 100;

function Records({ k }: { k: Schemas["KeptWholeBody"] }) {
  const [from, setFrom] = useState(0);
  const rows = useQuery({
    queryKey: ["kept records", k.id, from],
    queryFn: () =>
      ask(api.GET("/api/kept/{id}/records", { params: { path: { id: k.id }, query: { from, count: page } } })),
    placeholderData: keepPreviousData,
  });
  return (
    <section className="sheet min-w-0 overflow-x-auto p-4" aria-label="Records">
      {k.kept < k.of && (
        <p className="mb-2 text-[13px] text-ink2">
          The first {count(k.kept)} of {count(k.of)} records were kept.
        </p>
      )}
      <Trouble error={rows.error} />
      <table className="w-full border-collapse text-[14px]" aria-label="Records as they were">
        <thead>
          <tr className="text-[12px] text-ink2">
            {k.columns.map((c) => (
              <th key={c.field} className={`py-1 pr-3 font-normal ${c.number ? "text-right" : "text-left"}`}>
                {c.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.data?.rows.map((r, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a record can be in several rows
            <tr key={i} className="border-line border-t">
              {r.cells.map((c, n) => (
                <td
                  key={k.columns[n].field}
                  className={`py-1 pr-3 ${k.columns[n].number ? "figures text-right" : ""} ${c.hidden ? "text-ink3" : ""}`}
                >
                  {c.hidden ? "not yours to see" : c.text}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {k.kept > page && (
        <p className="mt-2 flex items-center gap-3 text-[13px]">
          <button type="button" className="btn" disabled={from === 0} onClick={() => setFrom(from - page)}>
            Before
          </button>
          {count(from + 1)} to {count(Math.min(from + page, k.kept))} of {count(k.kept)}
          <button type="button" className="btn" disabled={from + page >= k.kept} onClick={() => setFrom(from + page)}>
            After
          </button>
        </p>
      )}
    </section>
  );
}

/** Places it on a dashboard of one's own: what is kept is seen by nobody else. */
function PlaceKept({ id }: { id: number }) {
  const me = useMe().data;
  const client = useQueryClient();
  const go = useNavigate();
  const own = new Set((useFolders().data ?? []).filter((f) => f.private && f.mayChange).map((f) => f.id));
  const boards = (useBoards().data ?? []).filter((b) => own.has(b.folder) && b.mayChange);
  const panel = { report: 0, options: { kept: id } };
  const [place] = useDo(
    (board: number | undefined) =>
      board
        ? ask(api.POST("/api/boards/{id}/panels", { params: { path: { id: board } }, body: panel }))
        : ask(
            api.POST("/api/boards", {
              body: { title: "What I kept", folder: [...own][0], panels: [{ ...panel, x: 0, y: 0, w: 6, h: 9 }] },
            }),
          ),
    (b) => {
      anew(client, "boards");
      client.setQueryData(["board", b.id], b);
      go(`/dashboards/${b.id}`);
    },
  );
  if (!me?.mayCompose || own.size === 0) return null;
  return (
    <Menu label="Place it on a dashboard of your own" className="btn" text="Place on…" width={260}>
      <MenuLabel>A dashboard in your private folder</MenuLabel>
      {boards.map((b) => (
        <MenuItem key={b.id} label={b.title} onPick={() => place(b.id)} />
      ))}
      {!boards.some((b) => b.title === "What I kept") && (
        <MenuItem label="A new one, “What I kept”" onPick={() => place(undefined)} />
      )}
    </Menu>
  );
}
