import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, ask, type Me, type SchemaInfo, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import type { Filters } from "../../api/panels";
import { day } from "../../ui/figures";
import { Menu, MenuItem } from "../../ui/Menu";
import { PanelBehind } from "../boards/PanelBehind";
import { PanelCard, type Picked } from "../boards/PanelCard";
import { RecordForm } from "../records/RecordForm";
import { WaitingList } from "./Waits";

/** How many panels of the team's dashboard, and of one's favourites, stand here. */
const panelsHere = 4;

/** Where one begins: what waits, the team's numbers, one's own, what one follows, and what one opened lately. */
export function HomePage({ me }: { me: Me }) {
  const schema = useSchema();
  const [picked, setPicked] = useState<Picked>();
  const waits = useQuery({ queryKey: ["waits"], queryFn: () => ask(api.GET("/api/home/waits")) }).data;
  const home = useQuery({ queryKey: ["home"], queryFn: () => ask(api.GET("/api/home")), retry: false }).data;
  const board = useQuery({
    queryKey: ["board", home?.board ?? 0],
    enabled: !!home?.board,
    retry: false,
    queryFn: () => ask(api.GET("/api/boards/{id}", { params: { path: { id: home?.board ?? 0 } } })),
  }).data;
  const found = (query: object) => ask(api.GET("/api/find", { params: { query } }));
  const favourites = useQuery({
    queryKey: ["find", "home favourites"],
    queryFn: () => found({ kind: "report", favourite: true }),
  }).data?.items;
  const opened = useQuery({ queryKey: ["find", "home opened"], queryFn: () => found({ opened: true }) }).data?.items;
  if (!schema) return null;
  return (
    <>
      <header className="mb-3 flex flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[26px]">{me.name.split(" ")[0]}, this is waiting</h1>
        <New schema={schema} me={me} />
        <button type="button" className="btn btn-main" onClick={() => window.dispatchEvent(new Event("log"))}>
          Log or plan
        </button>
      </header>
      <div className="grid items-start gap-3 min-[1100px]:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3">
          {waits?.waiting.map((w) => (
            <WaitingList key={w.key} schema={schema} waiting={w} />
          ))}
          {waits && <News news={waits.news} kept={waits.kept} />}
        </div>
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3">
          {board && (
            <section aria-label={board.title}>
              <h2 className="title mb-1.5 flex items-baseline gap-2 text-[15px]">
                <Link className="hover:underline" to={`/dashboards/${board.id}`}>
                  {board.title}
                </Link>
                <span className="font-normal text-[13px] text-ink2">where {me.team || "everyone"} begins</span>
              </h2>
              <div className="grid gap-3 sm:grid-cols-2">
                {board.panels.slice(0, panelsHere).map((p) => (
                  <div key={`${p.report} ${p.x} ${p.y}`} className="h-[250px] min-w-0">
                    <PanelCard
                      report={p.report}
                      options={p.options}
                      filters={board.filters as Filters}
                      onPick={setPicked}
                    />
                  </div>
                ))}
              </div>
            </section>
          )}
          <section aria-label="Your favourites">
            <h2 className="title mb-1.5 text-[15px]">Your favourites</h2>
            {favourites?.length === 0 && (
              <p className="text-[13px] text-ink2">
                Mark a report as a favourite, in{" "}
                <Link className="link underline" to="/find?kind=report">
                  Find
                </Link>{" "}
                or on its page, and it stands here.
              </p>
            )}
            <div className="grid gap-3 sm:grid-cols-2">
              {favourites?.slice(0, panelsHere).map((r) => (
                <div key={r.id} className="h-[250px] min-w-0">
                  <PanelCard report={r.id} onPick={setPicked} />
                </div>
              ))}
            </div>
          </section>
          {!!opened?.length && (
            <section aria-label="Opened lately" className="sheet px-4 py-2.5">
              <h2 className="title text-[15px]">Opened lately</h2>
              <ul className="columns-2 gap-4 text-[13.5px]">
                {opened.slice(0, 8).map((o) => (
                  <li key={`${o.kind} ${o.id}`} className="truncate py-0.5">
                    <Link className="link" to={o.kind === "board" ? `/dashboards/${o.id}` : `/reports/${o.id}`}>
                      {o.title}
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
      </div>
      <PanelBehind picked={picked} onClose={() => setPicked(undefined)} />
    </>
  );
}

/** Makes a record of any type that one writes. */
function New({ schema, me }: { schema: SchemaInfo; me: Me }) {
  const go = useNavigate();
  const [type, setType] = useState<string>();
  const types = schema.types.filter((t) => t.written && t.name);
  const info = types.find((t) => t.key === type);
  return (
    <>
      <Menu label="New record" text="New…">
        {types.map((t) => (
          <MenuItem key={t.key} label={t.one.charAt(0).toUpperCase() + t.one.slice(1)} onPick={() => setType(t.key)} />
        ))}
      </Menu>
      {info && (
        <RecordForm
          type={info}
          names={{ owner: me.name }}
          begun={info.owner ? { [info.owner]: String(me.id) } : {}}
          onClose={() => setType(undefined)}
          onDone={(id) => go(`/records/${info.key}/${id}`)}
        />
      )}
    </>
  );
}

/** What others did about what one follows. */
function News({ news, kept }: { news: Schemas["NewsBody"][]; kept: Schemas["KeptNewsBody"][] }) {
  return (
    <section className="sheet px-4 py-2.5" aria-label="What you follow">
      <h2 className="title text-[15px]">What you follow</h2>
      {news.length + kept.length === 0 && (
        <p className="py-1 text-[13px] text-ink2">
          Follow a record, a report or a dashboard, and what others do about it stands here.
        </p>
      )}
      <ul>
        {kept.map((n) => (
          <li key={n.place} className="border-line border-b py-1 last:border-0">
            <Link className="link font-semibold" to={n.place}>
              {n.title}
            </Link>
            {n.changes.length === 0 && <span className="ml-2 text-[13px] text-ink2">nothing new in two weeks</span>}
            {n.changes.map((c) => (
              <p key={c.at} className="truncate text-[13px] text-ink2">
                {day(c.at)} · {c.change.join("; ") || "saved"} · {c.who}
              </p>
            ))}
          </li>
        ))}
        {news.map((n) => (
          <li key={`${n.type} ${n.id}`} className="border-line border-b py-1 last:border-0">
            <Link className="link font-semibold" to={`/records/${n.type}/${n.id}`}>
              {n.name || `number ${n.id}`}
            </Link>
            {n.entries.length === 0 && <span className="ml-2 text-[13px] text-ink2">nothing new in two weeks</span>}
            {n.entries.map((e) => (
              <p key={`${e.what} ${e.id}`} className="truncate text-[13px] text-ink2">
                {e.when} ·{" "}
                {e.what === "changed"
                  ? `${e.label} ${e.from || "empty"} → ${e.to || "empty"}`
                  : e.what === "made"
                    ? "made"
                    : [e.kind, e.outcome.toLowerCase(), e.about].filter(Boolean).join(", ")}
                {e.person && ` · ${e.person}`}
              </p>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}
