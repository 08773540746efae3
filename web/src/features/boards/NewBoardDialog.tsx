import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useBoards, useFolders } from "../../api/hooks";
import { anew } from "../../api/keys";
import { JSONFile } from "../../ui/JSONFile";
import { Modal } from "../../ui/Modal";
import { reason } from "../../ui/tell";

type Whole = Schemas["WholeBody"];

/** Makes a dashboard: from nothing, from a set of starters, from one there is, or from a file. */
export function NewBoardDialog({ onClose, from }: { onClose: () => void; from?: number }) {
  const folders = (useFolders().data ?? []).filter((f) => f.mayChange);
  const boards = useBoards().data ?? [];
  const sets =
    useQuery({ queryKey: ["sets"], queryFn: () => ask(api.GET("/api/sets")), staleTime: Number.POSITIVE_INFINITY })
      .data ?? [];
  const client = useQueryClient();
  const go = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [title, setTitle] = useState(from ? `${boards.find((b) => b.id === from)?.title ?? ""} (copy)` : "");
  const [folder, setFolder] = useState(0);
  const [source, setSource] = useState(from ? `board ${from}` : "nothing");
  const [whole, setWhole] = useState<Whole>();
  const [refused, setRefused] = useState("");
  const set = sets.find((s) => source === `set ${s.key}`);

  const make = async (e: FormEvent) => {
    e.preventDefault();
    const into = folder || folders[0]?.id || 0;
    const [kind, id] = source.split(" ");
    try {
      const board = await (kind === "set"
        ? ask(api.POST("/api/sets/{key}", { params: { path: { key: id } }, body: { title, folder: into } }))
        : kind === "file" && whole
          ? ask(api.POST("/api/whole-boards", { body: { folder: into, board: { ...whole, title } } }))
          : ask(
              api.POST("/api/boards", {
                body: {
                  title,
                  folder: into,
                  panels: boards.find((b) => kind === "board" && String(b.id) === id)?.panels ?? [],
                  filters: boards.find((b) => kind === "board" && String(b.id) === id)?.filters ?? {},
                },
              }),
            ));
      anew(client, "boards", "reports", "find");
      onClose();
      go(`/dashboards/${board.id}`);
    } catch (err) {
      setRefused(reason(err));
    }
  };
  const read = async (f: File) => {
    try {
      const got = JSON.parse(await f.text()) as Whole;
      if (!Array.isArray(got.panels)) throw new Error();
      setWhole(got);
      setSource("file");
      if (!title) setTitle(got.title);
    } catch {
      toast.error(`“${f.name}” is no dashboard.`);
    }
  };

  return (
    <Modal title="New dashboard" width={560} onClose={onClose}>
      <form onSubmit={make}>
        <p className="mb-1 font-semibold">Begins with</p>
        <div role="radiogroup" aria-label="Begins with" className="mb-3 grid grid-cols-2 gap-2">
          <Way
            on={source === "nothing"}
            title="Nothing"
            note="Reports are added one by one."
            onPick={() => setSource("nothing")}
          />
          {sets.map((s) => (
            <Way
              key={s.key}
              on={source === `set ${s.key}`}
              title={s.title}
              note={s.about}
              onPick={() => setSource(`set ${s.key}`)}
            />
          ))}
          <Way
            on={source === "file"}
            title="A file"
            note={whole ? `“${whole.title}”, ${whole.panels.length} panels` : "A dashboard that was written to one."}
            onPick={() => file.current?.click()}
          />
        </div>
        <JSONFile label="A dashboard from a file" of={file} onFile={(f) => void read(f)} />
        {boards.length > 0 && (
          <select
            className="input mb-3"
            aria-label="A copy of one there is"
            value={source.startsWith("board ") ? source : ""}
            onChange={(e) => setSource(e.target.value || "nothing")}
          >
            <option value="">… or a copy of one there is</option>
            {boards.map((b) => (
              <option key={b.id} value={`board ${b.id}`}>
                {b.title}
              </option>
            ))}
          </select>
        )}
        {set && (
          <p className="mb-3 text-[13px] text-ink2">
            Its reports are kept in the same folder: {set.panels.join(", ")}.
          </p>
        )}
        <label className="mb-1 block font-semibold" htmlFor="board-title">
          Name
        </label>
        <input
          id="board-title"
          className="input mb-3"
          maxLength={200}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
        />
        <label className="mb-1 block font-semibold" htmlFor="board-folder">
          Folder
        </label>
        <select
          id="board-folder"
          className="input"
          value={folder || folders[0]?.id}
          onChange={(e) => setFolder(Number(e.target.value))}
        >
          {folders.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name} {f.private ? "(only you)" : ""}
            </option>
          ))}
        </select>
        {refused && (
          <p role="alert" className="mt-3 text-rust">
            {refused}
          </p>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={!title.trim()}>
            Make
          </button>
        </div>
      </form>
    </Modal>
  );
}

function Way({ on, title, note, onPick }: { on: boolean; title: string; note: string; onPick: () => void }) {
  return (
    <button
      type="button"
      role="radio"
      aria-checked={on}
      className={`rounded-md border p-2 text-left ${on ? "border-[var(--amber)] bg-amber-soft" : "border-line hover:bg-sunk"}`}
      onClick={onPick}
    >
      <span className="block font-semibold">{title}</span>
      <span className="block text-[13px] text-ink2">{note}</span>
    </button>
  );
}
