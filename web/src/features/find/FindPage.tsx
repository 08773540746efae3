import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { useBoards, useFolders, useMe, useSchema, useSubjects } from "../../api/hooks";
import { count, day } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";
import { useFavourite } from "../../ui/useFavourite";
import { Drafts } from "./Drafts";
import { FolderDialog } from "./FolderDialog";
import { ItemMenu } from "./ItemMenu";
import { KindMark } from "./KindMark";
import { Many } from "./Many";
import { Word } from "./Word";

export type Found = Schemas["FoundBody"];

const keys = [
  "kind",
  "whose",
  "favourite",
  "opened",
  "folder",
  "board",
  "start",
  "changed",
  "for",
  "search",
  "sort",
  "deleted",
] as const;

/** One place for reports, dashboards and folders. What is looked for reads as a sentence and stands in the address. */
export function FindPage() {
  const [params, setParams] = useSearchParams();
  const schema = useSchema();
  const me = useMe().data;
  const folders = useFolders().data ?? [];
  const boards = useBoards().data ?? [];
  const subjects = useSubjects();
  const [picked, setPicked] = useState<string[]>([]);
  const [folder, setFolder] = useState<number | "new">();
  const get = (k: (typeof keys)[number]) => params.get(k) ?? "";
  const query = Object.fromEntries(keys.map((k) => [k, get(k)] as const).filter(([, v]) => v));
  const found = useQuery({
    queryKey: ["find", query],
    queryFn: ({ signal }) => ask(api.GET("/api/find", { params: { query: query as never }, signal })),
    placeholderData: keepPreviousData,
  });
  const set = (k: (typeof keys)[number], v: string) => {
    const next = new URLSearchParams(params);
    if (v) next.set(k, v);
    else next.delete(k);
    setPicked([]);
    setParams(next, { replace: k === "search" });
  };
  // What is typed is looked for once it rests; the address follows.
  const [words, setWords] = useState(get("search"));
  const asked = get("search");
  const look = useRef(set);
  look.current = set;
  useEffect(() => {
    if (words === asked) return;
    const timer = setTimeout(() => look.current("search", words), 150);
    return () => clearTimeout(timer);
  }, [words, asked]);
  if (!schema || !me) return null;
  const items = found.data?.items ?? [];
  const id = (f: Found) => `${f.kind} ${f.id}`;
  const chosen = items.filter((f) => picked.includes(id(f)));
  const deleted = get("deleted") === "true";
  const narrowed = keys.some((k) => k !== "sort" && get(k));
  return (
    <>
      <header className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[26px]">Find</h1>
        <input
          className="input !w-72"
          type="search"
          placeholder="Words in titles, sentences, fields"
          aria-label="Find a report, dashboard or folder"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {me.mayCompose && (
          <button type="button" className="btn" onClick={() => setFolder("new")}>
            New folder
          </button>
        )}
        <Link className="btn btn-quiet" to="/kept">
          Kept results
        </Link>
        <Link className="btn btn-main" to="/reports/new">
          New report
        </Link>
      </header>
      <div role="group" className="sentence mb-2" aria-label="What is looked for">
        <Word
          label="What"
          value={get("kind")}
          onChange={(v) => set("kind", v)}
          options={[
            ["", "Reports, dashboards and folders"],
            ["report", "Reports"],
            ["board", "Dashboards"],
            ["folder", "Folders"],
          ]}
        />{" "}
        <Word
          label="Whose"
          value={get("whose")}
          invite="whose…"
          onChange={(v) => set("whose", v)}
          options={[
            ["", "of everyone"],
            ["mine", "of mine"],
            ["team", "of my team"],
            ...subjects.filter((s) => s.kind === "person").map((s): [string, string] => [String(s.id), `of ${s.name}`]),
          ]}
        />{" "}
        <Word
          label="Marked"
          value={get("favourite") ? "favourite" : get("opened") ? "opened" : ""}
          invite="favourites…"
          onChange={(v) => {
            const next = new URLSearchParams(params);
            next.delete("favourite");
            next.delete("opened");
            if (v) next.set(v, "true");
            setPicked([]);
            setParams(next);
          }}
          options={[
            ["", "whether marked or not"],
            ["favourite", "that are favourites"],
            ["opened", "opened lately"],
          ]}
        />{" "}
        <Word
          label="In which folder"
          value={get("folder")}
          invite="in a folder…"
          onChange={(v) => set("folder", v)}
          options={[["", "in any folder"], ...folders.map((f): [string, string] => [String(f.id), `in “${f.name}”`])]}
        />{" "}
        <Word
          label="On which dashboard"
          value={get("board")}
          invite="on a dashboard…"
          onChange={(v) => set("board", v)}
          options={[
            ["", "wherever they stand"],
            ["none", "on no dashboard"],
            ...boards.map((b): [string, string] => [String(b.id), `on “${b.title}”`]),
          ]}
        />{" "}
        <Word
          label="About which records"
          value={get("start")}
          invite="over which records…"
          onChange={(v) => set("start", v)}
          options={[
            ["", "about any records"],
            ...schema.types.map((t): [string, string] => [t.key, `about ${t.label.toLowerCase()}`]),
          ]}
        />{" "}
        <Word
          label="Changed when"
          value={get("changed")}
          invite="changed…"
          onChange={(v) => set("changed", v)}
          options={[
            ["", "changed at any time"],
            ...schema.periods
              .filter((p) =>
                /^(today|yesterday|this_week|last_week|this_month|last_month|this_quarter|this_year)$/.test(p.word),
              )
              .map((p): [string, string] => [p.word, `changed ${p.label}`]),
          ]}
        />{" "}
        <Word
          label="Kept for whom"
          value={get("for")}
          invite="for whom…"
          onChange={(v) => set("for", v)}
          options={[
            ["", "kept for anyone"],
            ["me", "kept for me alone"],
            ["team", "kept for my team"],
          ]}
        />{" "}
        <Word
          label="Deleted"
          value={get("deleted")}
          invite="deleted…"
          onChange={(v) => set("deleted", v)}
          options={[
            ["", "that are there"],
            ["true", "recently deleted"],
          ]}
        />
        {get("search") && <span> with the words “{get("search")}”</span>},{" "}
        <Word
          label="In which order"
          value={get("sort")}
          onChange={(v) => set("sort", v)}
          options={[
            [
              "",
              get("opened")
                ? "the latest opened first"
                : deleted
                  ? "the latest deleted first"
                  : "the latest changed first",
            ],
            ["title", "by title"],
          ]}
        />
        .
        {narrowed && (
          <button
            type="button"
            className="link ml-3 font-[family-name:var(--font-text)] text-[13px]"
            onClick={() => {
              setWords("");
              setParams({});
            }}
          >
            All of them
          </button>
        )}
      </div>
      <Trouble error={found.error} />
      {!narrowed && <Drafts />}
      {chosen.length > 0 && <Many items={chosen} deleted={deleted} onDone={() => setPicked([])} />}
      {found.data && (
        <section className={`sheet ${found.isPlaceholderData ? "stale" : ""}`} aria-label="Found">
          <p
            className="flex items-center gap-3 border-line border-b px-3 py-1.5 text-ink2 text-[13px]"
            aria-live="polite"
          >
            <input
              type="checkbox"
              aria-label="Choose all"
              checked={items.length > 0 && chosen.length === items.length}
              onChange={(e) => setPicked(e.target.checked ? items.map(id) : [])}
            />
            {count(items.length)} found, all of them
          </p>
          {items.length === 0 && (
            <Empty title={deleted ? "Nothing was deleted lately" : "Nothing is like that"}>
              {deleted ? "What is deleted stays here for 30 days." : "Take a word out, or widen one."}
            </Empty>
          )}
          <ul>
            {items.map((f) => (
              <Item
                key={id(f)}
                item={f}
                picked={picked.includes(id(f))}
                onPick={(on) => setPicked(on ? [...picked, id(f)] : picked.filter((x) => x !== id(f)))}
                onFolder={() => setFolder(f.id)}
                onOpenFolder={() => setParams({ folder: String(f.id) })}
              />
            ))}
          </ul>
        </section>
      )}
      {folder !== undefined && (
        <FolderDialog folder={folders.find((f) => f.id === folder)} onClose={() => setFolder(undefined)} />
      )}
    </>
  );
}

function Item({
  item: f,
  picked,
  onPick,
  onFolder,
  onOpenFolder,
}: {
  item: Found;
  picked: boolean;
  onPick: (on: boolean) => void;
  onFolder: () => void;
  onOpenFolder: () => void;
}) {
  const star = useFavourite();
  const where = f.boards.map((b) => b.title).join(", ");
  return (
    <li className="flex gap-3 border-line border-b px-3 py-2 last:border-0">
      <input
        type="checkbox"
        className="mt-1"
        aria-label={`Choose ${f.title}`}
        checked={picked}
        onChange={(e) => onPick(e.target.checked)}
      />
      <KindMark kind={f.kind} />
      <div className="min-w-0 flex-1">
        <p className="flex flex-wrap items-baseline gap-x-2">
          {f.deleted ? (
            <span className="text-[15px] font-semibold">{f.title}</span>
          ) : f.kind === "folder" ? (
            <button type="button" className="link text-[15px] font-semibold" onClick={onOpenFolder}>
              {f.title}
            </button>
          ) : (
            <Link
              to={f.kind === "report" ? `/reports/${f.id}` : `/dashboards/${f.id}`}
              className="link text-[15px] font-semibold"
            >
              {f.title}
            </Link>
          )}
          <span className="text-ink3 text-xs">
            {[
              f.owner,
              f.kind !== "folder" && (f.private ? "only you" : f.folder && `in ${f.folder}`),
              where && `on ${where}`,
              f.kind === "board" && `${f.panels} ${f.panels === 1 ? "panel" : "panels"}`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </p>
        {(f.description || f.text) && <p className="mt-0.5 text-ink2 text-[13px]">{f.description || f.text}</p>}
      </div>
      <p className="shrink-0 text-right text-ink2 text-xs">
        {f.deleted ? `deleted ${day(f.deleted)} by ${f.deletedBy}` : f.changed > 0 && day(f.changed)}
        {f.kind === "folder" && f.mayChange && (
          <button type="button" className="link" onClick={onFolder}>
            Name and access
          </button>
        )}
      </p>
      {!f.deleted && f.kind !== "folder" && <ItemMenu item={f} />}
      {!f.deleted && (
        <button
          type="button"
          className="shrink-0 self-start"
          aria-pressed={f.favourite}
          aria-label={`Favourite: ${f.title}`}
          onClick={() => star(f)}
        >
          <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
            <path
              d="M3 2.5h10v11l-5-3.4-5 3.4z"
              fill={f.favourite ? "var(--amber)" : "none"}
              stroke={f.favourite ? "var(--amber)" : "var(--ink3)"}
              strokeWidth="1.4"
            />
          </svg>
        </button>
      )}
    </li>
  );
}
