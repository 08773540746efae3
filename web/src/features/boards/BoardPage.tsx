import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useRef, useState } from "react";
import ReactGridLayout, { useContainerWidth, verticalCompactor } from "react-grid-layout";
import { anew } from "../../api/keys";
import "react-grid-layout/css/styles.css";
import { Link, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Board, type Panel, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { type Filters, panelsAnew, usePanelStarts } from "../../api/panels";
import { useDraft } from "../../api/useDraft";
import { picture } from "../../chart/picture";
import { moment } from "../../ui/figures";
import { later } from "../../ui/later";
import { Empty, Trouble } from "../../ui/Say";
import { takePages } from "../../ui/takeOut";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { same, useSteps } from "../../ui/useSteps";
import { VersionList } from "../../ui/VersionList";
import { useBehind } from "../behind/useBehind";
import { KeptPanel } from "../kept/KeptPanel";
import { BoardMenu } from "./BoardMenu";
import { ClosedNote } from "./ClosedNote";
import { FilterBar } from "./FilterBar";
import { columns, mostPanels, nextPlace, nudge, tidied } from "./layout";
import { PanelBehind } from "./PanelBehind";
import { markOf, PanelCard, type Picked } from "./PanelCard";
import { PanelWords } from "./PanelWords";
import type { Switched } from "./Switches";
import { Wall } from "./Wall";

// What a board is arranged with.
const AddPanel = later(() => import("./AddPanel").then((m) => m.AddPanel));
const Handle = later(() => import("./Handle").then((m) => m.Handle));

export function BoardPage() {
  const id = Number(useParams().id);
  const client = useQueryClient();
  const board = useQuery({
    queryKey: ["board", id],
    queryFn: () => ask(api.GET("/api/boards/{id}", { params: { path: { id } } })),
  });
  const draft = useQuery({
    queryKey: ["board draft", id],
    retry: false,
    staleTime: 0,
    gcTime: 0,
    refetchOnReconnect: false,
    queryFn: () => ask(api.GET("/api/boards/{id}/draft", { params: { path: { id } } })),
  });
  // Where someone saves the board meanwhile, it opens anew, with the draft of what was being arranged.
  const version = board.data?.version;
  const opened = useRef(version);
  useEffect(() => {
    if (opened.current !== undefined && opened.current !== version)
      void client.invalidateQueries({ queryKey: ["board draft", id] });
    opened.current = version;
  }, [client, id, version]);
  // How often a draft was saved or given up here.
  const [left, setLeft] = useState(0);
  if (board.error) return <Trouble error={board.error} />;
  if (!board.data || draft.isPending) return null;
  return (
    <OpenBoard
      key={`${id} ${version} ${draft.data?.revision ?? 0} ${left}`}
      board={board.data}
      draft={draft.data?.revision ? draft.data : undefined}
      onLeft={(saved) => {
        client.setQueryData(["board draft", id], { version: 0, revision: 0, changed: 0, panels: [] });
        if (saved) client.setQueryData(["board", id], saved);
        setLeft((n) => n + 1);
      }}
    />
  );
}

/** What the address says a board is narrowed to; nothing where it says nothing that can be read. */
function readAt(text: string | null): Filters | undefined {
  if (!text) return undefined;
  try {
    return JSON.parse(text) as Filters;
  } catch {
    return undefined;
  }
}

function OpenBoard({
  board,
  draft,
  onLeft,
}: {
  board: Board;
  draft?: Schemas["BoardDraftBody"];
  /** The draft is gone: it was saved, as what is given, or given up. The board opens anew. */
  onLeft: (saved?: Board) => void;
}) {
  const client = useQueryClient();
  const schema = useSchema();
  const [params, setParams] = useSearchParams();
  const [arranging, setArranging] = useState(false);
  const steps = useSteps<Panel[]>(board.panels);
  const [seen, setSeen] = useState<Schemas["BoardVersionBody"]>();
  const panels = seen ? seen.panels : steps.now;
  const dragging = useRef(false);
  const whole = useRef<HTMLDivElement>(null);
  const [adding, setAdding] = useState(false);
  // The panel that was placed last, to be brought into view.
  const [fresh, setFresh] = useState<number>();
  const [earlier, setEarlier] = useState(false);
  const { picked, open: setPicked, close: closePicked } = useBehind<Picked>("picked");
  const [large, setLarge] = useState<{ at: number; kind?: string }>();
  const [wall, setWall] = useState(false);
  const { width, containerRef, mounted } = useContainerWidth();
  const narrow = width < 640;
  const changed = !same(steps.now, board.panels);
  const path = { params: { path: { id: board.id } } };
  const saved = useDraft({
    on: arranging && changed,
    value: steps.now,
    first: draft,
    put: (now, was, keepalive) =>
      ask(
        api.PUT("/api/boards/{id}/draft", {
          ...path,
          keepalive,
          body: { version: board.version, panels: now as Panel[], ...(was ? { revision: was.revision } : {}) },
        }),
      ),
    remove: () => ask(api.DELETE("/api/boards/{id}/draft", path)),
  });
  const full = panels.length >= mostPanels;
  const kept = board.filters as Filters;
  const filters = useMemo(() => readAt(params.get("at")) ?? kept, [params, kept]);
  const starts = usePanelStarts(
    panels.filter((p) => p.report).map((p) => ({ report: p.report, options: p.options ?? {} })),
    filters,
  );

  // What its reader has switched panels to stands in the address, by their report.
  const switched = readAt(params.get("switched")) as Record<string, Switched> | undefined;
  const switchTo = (report: number, to: Switched) => {
    const all: Record<string, Switched> = { ...switched, [report]: to };
    if (Object.keys(to).length === 0) delete all[report];
    const next = new URLSearchParams(params);
    if (Object.keys(all).length) next.set("switched", JSON.stringify(all));
    else next.delete("switched");
    setParams(next);
  };
  const narrowTo = (f: Filters) => {
    const next = new URLSearchParams(params);
    if (same(f, kept)) next.delete("at");
    else next.set("at", JSON.stringify(f));
    setParams(next);
  };
  const [moved, setMoved] = useState("");
  const change = (now: Panel[]) => steps.dispatch({ do: "set", now });
  const leave = () => saved.drop().then(() => onLeft());
  const [keep, keeping] = useDo(
    async (more: Partial<Board>) => {
      const { title, folder, version, filters } = board;
      const done = await ask(
        api.PUT("/api/boards/{id}", { ...path, body: { title, folder, version, panels, filters, ...more } }),
      );
      if (!more.panels) await saved.drop();
      return done;
    },
    (done, more) => {
      toast("Dashboard saved");
      anew(client, "boards");
      if (more.panels) client.setQueryData(["board", board.id], done);
      else onLeft(done);
      if (more.filters) setParams({});
    },
  );
  const put = (i: number, p: Panel) => change(panels.map((q, k) => (k === i ? p : q)));
  const card = (p: Panel, i: number, handle?: React.ReactNode) =>
    p.report ? (
      <PanelCard
        report={p.report}
        options={p.options}
        filters={filters}
        onPick={setPicked}
        onEnlarge={(kind) => setLarge({ at: i, kind })}
        handle={handle}
        switched={p.options?.switch ? switched?.[p.report] : undefined}
        onSwitch={(to) => switchTo(p.report, to)}
      />
    ) : p.options?.kept ? (
      <KeptPanel id={p.options.kept} heading={p.options.heading} handle={handle} />
    ) : (
      <PanelWords options={p.options ?? {}} handle={handle} />
    );
  const mark = picked && markOf(picked);
  // The row of figures stays at the top; what is arranged is arranged where it stands.
  const all = panels.map((p, i) => ({ p, i }));
  const atTop = arranging ? [] : all.filter(({ p }) => p.report && p.options?.top);
  const inGrid = arranging ? all : all.filter(({ p }) => !(p.report && p.options?.top));

  const [bring] = useDo(
    (version: number) =>
      ask(api.POST("/api/boards/{id}/versions/{version}/back", { params: { path: { id: board.id, version } } })),
    (b) => {
      client.setQueryData(["board", b.id], b);
      anew(client, "boards");
      toast("Brought back");
    },
  );

  return (
    <div ref={whole}>
      <header className="mb-2 flex min-h-8 flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[24px]">{board.title}</h1>
        {arranging ? (
          <>
            <span className="text-[13px] text-ink2" role="status">
              {full && `${mostPanels} panels, as many as there can be`}
              {saved.upToDate && changed ? " draft saved" : ""}
            </span>
            <button
              type="button"
              className="btn btn-quiet"
              disabled={!steps.canUndo}
              title="Ctrl+Z"
              onClick={() => steps.dispatch({ do: "undo" })}
            >
              Undo
            </button>
            <button
              type="button"
              className="btn btn-quiet"
              disabled={!steps.canRedo}
              title="Ctrl+Shift+Z"
              onClick={() => steps.dispatch({ do: "redo" })}
            >
              Redo
            </button>
            <button type="button" className="btn" disabled={full} onClick={() => setAdding(true)}>
              Add a report
            </button>
            <button
              type="button"
              className="btn"
              disabled={full}
              onClick={() =>
                change([
                  ...panels,
                  { ...nextPlace(panels, 0), w: 12, h: 2, options: { words: "A heading", section: true } },
                ])
              }
            >
              Add words
            </button>
            <button type="button" className="btn" disabled={panels.length < 2} onClick={() => change(tidied(panels))}>
              Tidy
            </button>
            <button type="button" className="btn" onClick={leave}>
              Leave as it was
            </button>
            <button type="button" className="btn btn-main" disabled={!changed || keeping} onClick={() => keep({})}>
              Save dashboard
            </button>
          </>
        ) : (
          <>
            <button type="button" className="btn" onClick={() => void panelsAnew(client)}>
              Refresh
            </button>
            {panels.some((p) => p.report) && (
              <button type="button" className="btn" onClick={() => setWall(true)}>
                On a wall
              </button>
            )}
            <BoardMenu
              board={board}
              onVersions={() => setEarlier(true)}
              onPicture={(as) => whole.current && void picture(whole.current, board.title, as).catch(tell)}
              onPages={() => void takePages({ board: board.id, filters })}
            />
            {board.mayChange && (
              <Link className="btn" to={`/reports/new?board=${board.id}`}>
                New report here
              </Link>
            )}
            {board.mayChange && !seen && (
              <button type="button" className="btn btn-main" onClick={() => setArranging(true)}>
                Arrange
              </button>
            )}
          </>
        )}
      </header>
      {schema && panels.some((p) => p.report) && (
        <FilterBar
          schema={schema}
          starts={starts}
          value={filters}
          kept={kept}
          mayKeep={board.mayChange}
          onChange={narrowTo}
          onKeep={() => keep({ panels: board.panels, filters: filters as Board["filters"] })}
        />
      )}
      {!arranging && <ClosedNote board={board} />}
      {saved.trouble && (
        <p role="alert" className="notice mb-2 rounded bg-amber-soft px-3 py-2">
          {saved.trouble.message}
        </p>
      )}
      {draft && !arranging && !same(draft.panels, board.panels) && (
        <Notice
          acts={[
            [
              "Go on with it",
              () => {
                change(draft.panels);
                setArranging(true);
              },
            ],
            ["Throw it away", leave],
          ]}
        >
          You arranged this dashboard on {moment(draft.changed)} and did not save it.
          {draft.version !== board.version &&
            " It was saved by someone since; what you arranged would take the place of that."}
        </Notice>
      )}
      {seen && (
        <Notice
          acts={[
            ...(board.mayChange ? [["Bring it back", () => bring(seen.version)] as Act] : []),
            ["Back to now", () => setSeen(undefined)],
          ]}
        >
          As it was on {moment(seen.at)}, by {seen.who}.
        </Notice>
      )}
      {arranging && (
        <p className="mb-2 text-ink2 text-[13px]">
          Drag a panel by its handle and its corner, or focus the handle: arrow keys move it, with Shift they resize it.{" "}
          {panels.length} of {mostPanels} panels.
        </p>
      )}
      {panels.length === 0 && (
        <div className="sheet">
          <Empty title="Nothing placed here yet">
            {board.mayChange ? "Press Arrange and add a report." : "Its owner has placed nothing yet."}
          </Empty>
        </div>
      )}
      <div ref={containerRef as React.RefObject<HTMLDivElement>} className="-mx-1.5">
        {mounted && atTop.length > 0 && (
          <section
            aria-label="Figures"
            className={`z-10 mx-1.5 mb-3 grid gap-3 bg-ground pb-1 ${narrow ? "" : "sticky top-0"}`}
            style={{ gridTemplateColumns: "repeat(auto-fit, minmax(180px, 1fr))" }}
          >
            {atTop.map(({ p, i }) => (
              <div key={i} className="h-[150px]">
                {card(p, i)}
              </div>
            ))}
          </section>
        )}
        {mounted && narrow && (
          <div className="flex flex-col gap-3">
            {inGrid
              .sort((a, b) => a.p.y - b.p.y || a.p.x - b.p.x)
              .map(({ p, i }) => (
                <div key={`${p.report} ${p.x} ${p.y}`} style={{ height: p.report ? 380 : undefined }}>
                  {card(p, i)}
                </div>
              ))}
          </div>
        )}
        <p className="sr-only" aria-live="polite">
          {moved}
        </p>
        {mounted && !narrow && (
          <ReactGridLayout
            width={width}
            gridConfig={{ cols: columns, rowHeight: 30, margin: [12, 12], containerPadding: [6, 0] }}
            dragConfig={{ enabled: arranging, handle: ".panel-handle" }}
            resizeConfig={{ enabled: arranging, handles: ["se"] }}
            compactor={verticalCompactor}
            layout={inGrid.map(({ p, i }) => ({
              i: String(i),
              x: p.x,
              y: p.y,
              w: p.w,
              h: p.h,
              minW: 2,
              minH: p.report ? 3 : 1,
            }))}
            onLayoutChange={(next) => {
              const placed = panels.map((p, i) => {
                const l = next.find((n) => n.i === String(i));
                return l ? { ...p, x: l.x, y: l.y, w: l.w, h: l.h } : p;
              });
              // What the grid moves up after something else was done is no step of its own.
              if (seen) return;
              steps.dispatch({ do: dragging.current ? "set" : "settle", now: placed });
              dragging.current = false;
            }}
            onDragStart={() => {
              dragging.current = true;
            }}
            onResizeStart={() => {
              dragging.current = true;
            }}
          >
            {inGrid.map(({ p, i }) => (
              <div key={i} ref={i === fresh ? inView : undefined}>
                {card(
                  p,
                  i,
                  arranging ? (
                    <Handle
                      panel={p}
                      full={full}
                      onChange={(q) => put(i, q)}
                      onNudge={(key, resize) => {
                        const next = nudge(panels, i, key, resize);
                        setMoved(next.said);
                        if (next.panels !== panels) change(next.panels);
                      }}
                      onDouble={() => change([...panels, { ...p, ...pick(nextPlace(panels, p.report)) }])}
                      onDrop={() => change(panels.filter((_, k) => k !== i))}
                    />
                  ) : undefined,
                )}
              </div>
            ))}
          </ReactGridLayout>
        )}
      </div>
      <PanelBehind
        picked={picked}
        onNarrow={
          mark
            ? () => {
                narrowTo({
                  ...filters,
                  fields: [
                    ...(filters.fields ?? []).filter((f) => f.type !== mark.type || f.field !== mark.field),
                    mark,
                  ],
                });
              }
            : undefined
        }
        onClose={closePicked}
      />
      {wall && (
        <Wall
          title={board.title}
          panels={panels.filter((p) => p.report)}
          draw={(p) => <PanelCard report={p.report} options={p.options} filters={filters} onPick={setPicked} />}
          onClose={() => setWall(false)}
        />
      )}
      {large && panels[large.at] && (
        <Dialog.Root open onOpenChange={(o) => !o && setLarge(undefined)}>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 z-20 bg-black/30" />
            <Dialog.Content className="fixed inset-6 z-20 flex flex-col" aria-describedby={undefined}>
              <Dialog.Title className="sr-only">Enlarged</Dialog.Title>
              <Dialog.Close className="btn absolute top-3 right-14 z-10">Close</Dialog.Close>
              <PanelCard
                report={panels[large.at].report}
                options={panels[large.at].options}
                filters={filters}
                chosen={large.kind}
                onPick={setPicked}
              />
            </Dialog.Content>
          </Dialog.Portal>
        </Dialog.Root>
      )}
      {adding && (
        <AddPanel
          board={board}
          onAdd={(report) => {
            change([...panels, nextPlace(panels, report)]);
            setFresh(panels.length);
          }}
          onClose={() => setAdding(false)}
        />
      )}
      {earlier && <Earlier board={board} onSee={setSeen} onBring={bring} onClose={() => setEarlier(false)} />}
    </div>
  );
}

type Act = [string, () => void];

/** What is to be known of the board now, and what can be done about it. */
function Notice({ acts, children }: { acts: Act[]; children: React.ReactNode }) {
  return (
    <p role="status" className="notice mb-2 flex flex-wrap items-center gap-3 rounded bg-amber-soft px-3 py-2">
      <span className="mr-auto">{children}</span>
      {acts.map(([words, act]) => (
        <button key={words} type="button" className="link" onClick={act}>
          {words}
        </button>
      ))}
    </p>
  );
}

/** What a dashboard was. */
function Earlier({
  board,
  onSee,
  onBring,
  onClose,
}: {
  board: Board;
  onSee: (v: Schemas["BoardVersionBody"]) => void;
  onBring: (version: number) => void;
  onClose: () => void;
}) {
  const list = useQuery({
    queryKey: ["board versions", board.id, board.version],
    queryFn: () => ask(api.GET("/api/boards/{id}/versions", { params: { path: { id: board.id } } })),
  });
  return (
    <VersionList
      title={`Earlier versions of “${board.title}”`}
      list={list.data ?? []}
      now={board.version}
      mayBring={board.mayChange}
      onSee={onSee}
      onBring={(v) => onBring(v.version)}
      onClose={onClose}
    />
  );
}

const inView = (panel: HTMLElement | null) => void setTimeout(() => panel?.scrollIntoView({ block: "nearest" }), 50);

const pick = ({ x, y }: Panel) => ({ x, y });
