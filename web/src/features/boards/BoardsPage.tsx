import { DndContext } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Board } from "../../api/client";
import { useBoards, useFolders, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { moved } from "../../brief/edits";
import { Empty, Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useSorting } from "../../ui/useSorting";
import { NewBoardDialog } from "./NewBoardDialog";

/** The dashboards that one may open, in one's own order. */
export function BoardsPage() {
  const boards = useBoards();
  const client = useQueryClient();
  const list = boards.data ?? [];
  const sorting = useSorting(list.map((b) => ({ id: b.id, name: b.title })));
  const { mutate: order } = useMutation({
    // One after the other: the last order that a person gave is the one that is kept.
    scope: { id: "board order" },
    mutationFn: (next: Board[]) => ask(api.PUT("/api/board-order", { body: { boards: next.map((b) => b.id) } })),
    onMutate: (next) => client.setQueryData(["boards"], next),
    onError: (e) => {
      anew(client, "boards");
      tell(e);
    },
  });
  return (
    <>
      <header className="mb-4 flex items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Dashboards</h1>
        <NewBoard />
      </header>
      <Trouble error={boards.error} />
      <div className="sheet">
        {boards.data?.length === 0 && (
          <Empty title="No dashboards yet">Make one here, or open a report and place it on a new one.</Empty>
        )}
        <DndContext
          {...sorting}
          onDragEnd={({ active, over }) => {
            const from = list.findIndex((b) => b.id === active.id);
            const to = list.findIndex((b) => b.id === over?.id);
            if (from >= 0 && to >= 0 && from !== to) order(moved(list, from, to));
          }}
        >
          <SortableContext items={list.map((b) => b.id)} strategy={verticalListSortingStrategy}>
            <ul aria-label="Dashboards">
              {list.map((b) => (
                <Row key={b.id} board={b} alone={list.length === 1} />
              ))}
            </ul>
          </SortableContext>
        </DndContext>
      </div>
      {list.length > 1 && (
        <p className="mt-2 text-[13px] text-ink2">Drag them into the order that suits you; nobody else sees it.</p>
      )}
    </>
  );
}

function Row({ board: b, alone }: { board: Board; alone: boolean }) {
  const folders = useFolders().data ?? [];
  const s = useSortable({ id: b.id });
  return (
    <li
      ref={s.setNodeRef}
      style={{ transform: CSS.Translate.toString(s.transform), transition: s.transition }}
      className="flex items-baseline gap-3 border-line border-b bg-paper px-4 py-2.5 last:border-0"
    >
      {!alone && (
        <button
          type="button"
          className="cursor-grab touch-none text-ink3"
          aria-label={`Move ${b.title}`}
          {...s.attributes}
          {...s.listeners}
        >
          ⠿
        </button>
      )}
      <Link className="link text-[15px] font-semibold" to={`/dashboards/${b.id}`}>
        {b.title}
      </Link>
      <span className="text-ink3 text-xs">
        {folders.find((f) => f.id === b.folder)?.name} · {b.owner} · {b.panels.length}{" "}
        {b.panels.length === 1 ? "panel" : "panels"}
      </span>
    </li>
  );
}

function NewBoard() {
  const me = useMe().data;
  const [open, setOpen] = useState(false);
  if (!me?.mayCompose) return null;
  return (
    <>
      <button type="button" className="btn btn-main" onClick={() => setOpen(true)}>
        New dashboard
      </button>
      {open && <NewBoardDialog onClose={() => setOpen(false)} />}
    </>
  );
}
