import { useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, Refused } from "../../api/client";
import { useBoards, useFolders, useMe } from "../../api/hooks";
import { Empty, Trouble } from "../../ui/Say";

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
  const folders = useFolders().data ?? [];
  const client = useQueryClient();
  const go = useNavigate();
  const [title, setTitle] = useState("");
  const [folder, setFolder] = useState(0);
  if (!me?.mayCompose) return null;
  const make = async () => {
    try {
      const b = await ask(api.POST("/api/boards", { body: { title, folder: folder || folders[0].id, panels: [] } }));
      void client.invalidateQueries({ queryKey: ["boards"] });
      go(`/dashboards/${b.id}`);
    } catch (e) {
      toast.error(e instanceof Refused ? e.message : "That did not work. Try again.");
    }
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="btn btn-main">New dashboard</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="pop w-72 p-3" align="end" sideOffset={6}>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void make();
            }}
          >
            <label className="mb-1 block font-semibold" htmlFor="board-title">
              Name
            </label>
            <input id="board-title" className="input mb-3" value={title} onChange={(e) => setTitle(e.target.value)} />
            <label className="mb-1 block font-semibold" htmlFor="board-folder">
              Folder
            </label>
            <select
              id="board-folder"
              className="input mb-3"
              value={folder || folders[0]?.id}
              onChange={(e) => setFolder(Number(e.target.value))}
            >
              {folders.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name} {f.private ? "(only you)" : "(everyone)"}
                </option>
              ))}
            </select>
            <button type="submit" className="btn btn-main" disabled={!title.trim()}>
              Make
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
