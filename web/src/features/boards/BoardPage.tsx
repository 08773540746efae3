import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import ReactGridLayout, { useContainerWidth, verticalCompactor } from "react-grid-layout";
import "react-grid-layout/css/styles.css";
import { useParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Board, type Panel, Refused } from "../../api/client";
import { useReports } from "../../api/hooks";
import { Empty, Trouble } from "../../ui/Say";
import { Behind } from "../behind/Behind";
import { columns, nextPlace, nudge } from "./layout";
import { PanelCard, type Picked } from "./PanelCard";

export function BoardPage() {
  const id = Number(useParams().id);
  const board = useQuery({ queryKey: ["board", id], queryFn: () => ask(api.GET("/api/boards/{id}", { params: { path: { id } } })) });
  if (board.error) return <Trouble error={board.error} />;
  if (!board.data) return null;
  return <OpenBoard key={`${id} ${board.data.version}`} board={board.data} />;
}

function OpenBoard({ board }: { board: Board }) {
  const client = useQueryClient();
  const [arranging, setArranging] = useState(false);
  const [panels, setPanels] = useState<Panel[]>(board.panels);
  const [picked, setPicked] = useState<Picked>();
  const { width, containerRef, mounted } = useContainerWidth();
  const narrow = width < 640;
  const changed = JSON.stringify(panels) !== JSON.stringify(board.panels);

  const keep = async () => {
    try {
      const kept = await ask(
        api.PUT("/api/boards/{id}", {
          params: { path: { id: board.id } },
          body: { title: board.title, folder: board.folder, version: board.version, panels },
        }),
      );
      toast("Dashboard saved");
      void client.invalidateQueries({ queryKey: ["boards"] });
      client.setQueryData(["board", board.id], kept);
    } catch (e) {
      toast.error(e instanceof Refused ? e.message : "It could not be saved. Try again.");
    }
  };
  const put = (i: number, p: Panel) => setPanels(panels.map((q, k) => (k === i ? p : q)));

  return (
    <>
      <header className="mb-3 flex min-h-8 flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[24px]">{board.title}</h1>
        {arranging ? (
          <>
            <AddReport onAdd={(report) => setPanels([...panels, nextPlace(panels, report)])} />
            <button
              type="button"
              className="btn"
              onClick={() => {
                setPanels(board.panels);
                setArranging(false);
              }}
            >
              Leave as it was
            </button>
            <button type="button" className="btn btn-main" disabled={!changed} onClick={keep}>
              Save dashboard
            </button>
          </>
        ) : (
          board.mayChange && (
            <button type="button" className="btn btn-main" onClick={() => setArranging(true)}>
              Arrange
            </button>
          )
        )}
      </header>
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
            {[...panels]
              .sort((a, b) => a.y - b.y || a.x - b.x)
              .map((p) => (
                <div key={`${p.report} ${p.x} ${p.y}`} style={{ height: 380 }}>
                  <PanelCard report={p.report} onPick={setPicked} />
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
            layout={panels.map((p, i) => ({ i: String(i), x: p.x, y: p.y, w: p.w, h: p.h, minW: 2, minH: 3 }))}
            onLayoutChange={(next) => {
              const placed = panels.map((p, i) => {
                const l = next.find((n) => n.i === String(i));
                return l ? { ...p, x: l.x, y: l.y, w: l.w, h: l.h } : p;
              });
              if (JSON.stringify(placed) !== JSON.stringify(panels)) setPanels(placed);
            }}
          >
            {panels.map((p, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a panel is its place in the list
              <div key={i}>
                <PanelCard
                  report={p.report}
                  onPick={setPicked}
                  handle={
                    arranging ? (
                      <Handle panel={p} onChange={(q) => put(i, q)} onDrop={() => setPanels(panels.filter((_, k) => k !== i))} />
                    ) : undefined
                  }
                />
              </div>
            ))}
          </ReactGridLayout>
        )}
      </div>
      {picked && <Behind brief={picked.brief} sentence={picked.sentence} picked={picked} onClose={() => setPicked(undefined)} />}
    </>
  );
}

function Handle({ panel, onChange, onDrop }: { panel: Panel; onChange: (p: Panel) => void; onDrop: () => void }) {
  return (
    <span className="flex gap-1">
      <button
        type="button"
        className="panel-handle btn !h-6 cursor-grab !px-2 text-xs"
        aria-label="Move panel"
        aria-description="Arrow keys move it, with Shift they resize it"
        onKeyDown={(e) => {
          if (!e.key.startsWith("Arrow")) return;
          e.preventDefault();
          onChange(nudge(panel, e.key, e.shiftKey));
        }}
      >
        ⠿
      </button>
      <button type="button" className="btn !h-6 !px-2 text-xs" onClick={onDrop}>
        Take off
      </button>
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
