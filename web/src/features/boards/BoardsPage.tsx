import { useState } from "react";
import { Link } from "react-router";
import { useBoards, useFolders, useMe } from "../../api/hooks";
import { Empty, Trouble } from "../../ui/Say";
import { NewBoardDialog } from "./NewBoardDialog";

export function BoardsPage() {
  const boards = useBoards();
  const folders = useFolders().data ?? [];
  return (
    <>
      <header className="mb-4 flex items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Dashboards</h1>
        <NewBoard />
      </header>
      <Trouble error={boards.error} />
      <div className="sheet">
        {boards.data?.length === 0 && <Empty title="No dashboards yet">Make one here, or open a report and place it on a new one.</Empty>}
        <ul>
          {boards.data?.map((b) => (
            <li key={b.id} className="flex items-baseline gap-3 border-line border-b px-4 py-2.5 last:border-0">
              <Link className="link text-[15px] font-semibold" to={`/dashboards/${b.id}`}>
                {b.title}
              </Link>
              <span className="text-ink3 text-xs">
                {folders.find((f) => f.id === b.folder)?.name} · {b.owner} · {b.panels.length} {b.panels.length === 1 ? "panel" : "panels"}
              </span>
            </li>
          ))}
        </ul>
      </div>
    </>
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
