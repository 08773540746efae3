import { useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import ReactGridLayout, { useContainerWidth, verticalCompactor } from "react-grid-layout";
import { startOf } from "../compose/edits";
import "react-grid-layout/css/styles.css";
import { Link, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Board, type Panel, Refused } from "../../api/client";
import { reportQuery, useReport, useReports, useSchema } from "../../api/hooks";
import { Empty, Trouble } from "../../ui/Say";
import { BoardMenu } from "./BoardMenu";
import { ClosedNote } from "./ClosedNote";
import { FilterBar } from "./FilterBar";
import { type Filters, filterOf } from "./filters";
import { columns, nextPlace, nudge, tidied } from "./layout";
import { PanelBehind } from "./PanelBehind";
import { PanelCard, type Picked } from "./PanelCard";
import { Elsewhere, PanelDialog } from "./PanelDialog";
import { PanelWords } from "./PanelWords";
import { Wall } from "./Wall";

export function BoardPage() {
  const id = Number(useParams().id);
  const client = useQueryClient();
  const board = useQuery({ queryKey: ["board", id], queryFn: () => ask(api.GET("/api/boards/{id}", { params: { path: { id } } })) });
  // All its reports in one question; each panel finds its own there, and asks for itself where it does not.
  const reports = useQuery({
    queryKey: ["board reports", id],
    retry: false,
    queryFn: async () => {
      const list = await ask(api.GET("/api/boards/{id}/reports", { params: { path: { id } } }));
      for (const r of list) client.setQueryData(["report", r.id], r);
      return list.length;
    },
  });
  if (board.error) return <Trouble error={board.error} />;
  if (!board.data || reports.isPending) return null;
  return <OpenBoard key={`${id} ${board.data.version}`} board={board.data} />;
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

function OpenBoard({ board }: { board: Board }) {
  const client = useQueryClient();
  const schema = useSchema();
  const [params, setParams] = useSearchParams();
  const [arranging, setArranging] = useState(false);
  const [past, setPast] = useState<Panel[][]>([]);
  const [panels, setPanels] = useState<Panel[]>(board.panels);
  const [picked, setPicked] = useState<Picked>();
  const [large, setLarge] = useState<number>();
  const [wall, setWall] = useState(false);
  const { width, containerRef, mounted } = useContainerWidth();
  const narrow = width < 640;
  const changed = JSON.stringify(panels) !== JSON.stringify(board.panels);
  const kept = board.filters as Filters;
  const filters = useMemo(() => readAt(params.get("at")) ?? kept, [params, kept]);
  const reports = useQueries({
    queries: panels.filter((p) => p.report).map((p) => reportQuery(p.report)),
  });
  const starts = [...new Set(reports.flatMap((r) => (r.data ? [startOf(r.data.brief)] : [])))];

  const narrowTo = (f: Filters) => {
    const next = new URLSearchParams(params);
    if (JSON.stringify(f) === JSON.stringify(kept)) next.delete("at");
    else next.set("at", JSON.stringify(f));
    setParams(next);
  };
  const change = (next: Panel[]) => {
    setPast([...past.slice(-50), panels]);
    setPanels(next);
  };
  const keep = async (more: Partial<Board> = {}) => {
    try {
      const done = await ask(
        api.PUT("/api/boards/{id}", {
          params: { path: { id: board.id } },
          body: { title: board.title, folder: board.folder, version: board.version, panels, filters: board.filters, ...more },
        }),
      );
      toast("Dashboard saved");
      void client.invalidateQueries({ queryKey: ["boards"] });
      client.setQueryData(["board", board.id], done);
      if (more.filters) setParams({});
    } catch (e) {
      toast.error(e instanceof Refused ? e.message : "It could not be saved. Try again.");
    }
  };
  const put = (i: number, p: Panel) => change(panels.map((q, k) => (k === i ? p : q)));
  const card = (p: Panel, i: number, handle?: React.ReactNode) =>
    p.report ? (
      <PanelCard report={p.report} options={p.options} filters={filters} onPick={setPicked} onEnlarge={() => setLarge(i)} handle={handle} />
    ) : (
      <PanelWords options={p.options ?? {}} handle={handle} />
    );
  const mark = picked && schema ? filterOf(schema, picked.brief, picked.marks) : undefined;

  return (
    <>
      <header className="mb-2 flex min-h-8 flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[24px]">{board.title}</h1>
        {arranging ? (
          <>
            <button
              type="button"
              className="btn btn-quiet"
              disabled={past.length === 0}
              onClick={() => {
                setPanels(past[past.length - 1]);
                setPast(past.slice(0, -1));
              }}
            >
              Undo
            </button>
            <AddReport onAdd={(report) => change([...panels, nextPlace(panels, report)])} />
            <button
              type="button"
              className="btn"
              onClick={() => change([...panels, { ...nextPlace(panels, 0), w: 12, h: 2, options: { words: "A heading", section: true } }])}
            >
              Add words
            </button>
            <button type="button" className="btn" disabled={panels.length < 2} onClick={() => change(tidied(panels))}>
              Tidy
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                setPanels(board.panels);
                setPast([]);
                setArranging(false);
              }}
            >
              Leave as it was
            </button>
            <button type="button" className="btn btn-main" disabled={!changed} onClick={() => keep()}>
              Save dashboard
            </button>
          </>
        ) : (
          <>
            <button type="button" className="btn" onClick={() => client.invalidateQueries({ queryKey: ["answer"] })}>
              Refresh
            </button>
            {panels.some((p) => p.report) && (
              <button type="button" className="btn" onClick={() => setWall(true)}>
                On a wall
              </button>
            )}
            <BoardMenu board={board} onRename={(title) => keep({ title, panels: board.panels })} />
            {board.mayChange && (
              <Link className="btn" to={`/reports/new?board=${board.id}`}>
                New report here
              </Link>
            )}
            {board.mayChange && (
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
      <ClosedNote board={board} />
      {arranging && (
        <p className="mb-2 text-ink2 text-[13px]">
          Drag a panel by its handle and its corner, or focus the handle: arrow keys move it, with Shift they resize it.
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
        {mounted && narrow && (
          <div className="flex flex-col gap-3">
            {panels
              .map((p, i) => ({ p, i }))
              .sort((a, b) => a.p.y - b.p.y || a.p.x - b.p.x)
              .map(({ p, i }) => (
                <div key={`${p.report} ${p.x} ${p.y}`} style={{ height: p.report ? 380 : undefined }}>
                  {card(p, i)}
                </div>
              ))}
          </div>
        )}
        {mounted && !narrow && (
          <ReactGridLayout
            width={width}
            gridConfig={{ cols: columns, rowHeight: 30, margin: [12, 12], containerPadding: [6, 0] }}
            dragConfig={{ enabled: arranging, handle: ".panel-handle" }}
            resizeConfig={{ enabled: arranging, handles: ["se"] }}
            compactor={verticalCompactor}
            layout={panels.map((p, i) => ({ i: String(i), x: p.x, y: p.y, w: p.w, h: p.h, minW: 2, minH: p.report ? 3 : 1 }))}
            onLayoutChange={(next) => {
              const placed = panels.map((p, i) => {
                const l = next.find((n) => n.i === String(i));
                return l ? { ...p, x: l.x, y: l.y, w: l.w, h: l.h } : p;
              });
              if (JSON.stringify(placed) !== JSON.stringify(panels)) setPanels(placed);
            }}
            onDragStart={() => setPast([...past.slice(-50), panels])}
            onResizeStart={() => setPast([...past.slice(-50), panels])}
          >
            {panels.map((p, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a panel is its place in the list
              <div key={i}>
                {card(
                  p,
                  i,
                  arranging ? (
                    <Handle
                      panel={p}
                      onChange={(q) => put(i, q)}
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
                  fields: [...(filters.fields ?? []).filter((f) => f.type !== mark.type || f.field !== mark.field), mark],
                });
                setPicked(undefined);
              }
            : undefined
        }
        onClose={() => setPicked(undefined)}
      />
      {wall && (
        <Wall
          title={board.title}
          panels={panels.filter((p) => p.report)}
          draw={(p) => <PanelCard report={p.report} options={p.options} filters={filters} onPick={setPicked} />}
          onClose={() => setWall(false)}
        />
      )}
      {large !== undefined && panels[large] && (
        <Dialog.Root open onOpenChange={(o) => !o && setLarge(undefined)}>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 z-20 bg-black/30" />
            <Dialog.Content className="fixed inset-6 z-20 flex flex-col" aria-describedby={undefined}>
              <Dialog.Title className="sr-only">Enlarged</Dialog.Title>
              <Dialog.Close className="btn absolute top-3 right-14 z-10">Close</Dialog.Close>
              <PanelCard report={panels[large].report} options={panels[large].options} filters={filters} onPick={setPicked} />
            </Dialog.Content>
          </Dialog.Portal>
        </Dialog.Root>
      )}
    </>
  );
}

const pick = ({ x, y }: Panel) => ({ x, y });

function Handle({
  panel,
  onChange,
  onDouble,
  onDrop,
}: {
  panel: Panel;
  onChange: (p: Panel) => void;
  onDouble: () => void;
  onDrop: () => void;
}) {
  const title = useReport(panel.report || undefined).data?.title;
  const name = panel.options?.heading ?? title ?? panel.options?.words ?? "the panel";
  const [words, setWords] = useState(false);
  return (
    <span className="flex gap-1">
      <button
        type="button"
        className="panel-handle btn !h-6 cursor-grab !px-2 text-xs"
        aria-label={`Move “${name}”`}
        aria-description="Arrow keys move it, with Shift they resize it"
        onKeyDown={(e) => {
          if (!e.key.startsWith("Arrow")) return;
          e.preventDefault();
          onChange(nudge(panel, e.key, e.shiftKey));
        }}
      >
        ⠿
      </button>
      <button type="button" className="btn !h-6 !px-2 text-xs" onClick={() => setWords(true)}>
        {panel.report ? "Settings" : "Words"}
      </button>
      <Elsewhere panel={panel} onMoved={onDrop} />
      <button type="button" className="btn !h-6 !px-2 text-xs" onClick={onDouble}>
        Double
      </button>
      <button type="button" className="btn !h-6 !px-2 text-xs" onClick={onDrop}>
        Take off
      </button>
      {words && <PanelDialog panel={panel} onChange={onChange} onClose={() => setWords(false)} />}
    </span>
  );
}

function AddReport({ onAdd }: { onAdd: (report: number) => void }) {
  const reports = useReports().data ?? [];
  return (
    <select className="input !w-52" aria-label="Add a report" value="" onChange={(e) => e.target.value && onAdd(Number(e.target.value))}>
      <option value="">Add a report …</option>
      {reports.map((r) => (
        <option key={r.id} value={r.id}>
          {r.title}
        </option>
      ))}
    </select>
  );
}
