import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useBoards, useFolders, useSchema, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import type { Filters } from "../../api/panels";
import { FolderField } from "../../ui/FolderField";
import { FormEnd } from "../../ui/FormEnd";
import { TextField, useSend } from "../../ui/form";
import { JSONFile } from "../../ui/JSONFile";
import { Modal } from "../../ui/Modal";
import { otherwise } from "./otherwise";

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
  const form = useForm({
    defaultValues: { title: from ? `${boards.find((b) => b.id === from)?.title ?? ""} (copy)` : "", folder: 0 },
  });
  const title = form.watch("title");
  const [source, setSource] = useState(from ? `board ${from}` : "nothing");
  const [whole, setWhole] = useState<Whole>();
  // The same for other people, or in another period.
  const [whose, setWhose] = useState("");
  const [within, setWithin] = useState("");
  const subjects = useSubjects();
  const schema = useSchema();
  const copied = boards.find((b) => source === `board ${b.id}`);
  const set = sets.find((s) => source === `set ${s.key}`);

  const { submit, busy } = useSend(
    form,
    ({ title, folder }) => {
      const into = folder || folders[0]?.id || 0;
      const [kind, id] = source.split(" ");
      return kind === "set"
        ? ask(api.POST("/api/sets/{key}", { params: { path: { key: id } }, body: { title, folder: into } }))
        : kind === "file" && whole
          ? ask(api.POST("/api/whole-boards", { body: { folder: into, board: { ...whole, title } } }))
          : ask(
              api.POST("/api/boards", {
                body: {
                  title,
                  folder: into,
                  panels: copied?.panels ?? [],
                  filters: otherwise((copied?.filters ?? {}) as Filters, whose, within),
                },
              }),
            );
    },
    (board) => {
      anew(client, "boards", "reports", "find");
      onClose();
      go(`/dashboards/${board.id}`);
    },
  );
  const read = async (f: File) => {
    try {
      const got = JSON.parse(await f.text()) as Whole;
      if (!Array.isArray(got.panels)) throw new Error();
      setWhole(got);
      setSource("file");
      if (!title) form.setValue("title", got.title);
    } catch {
      toast.error(`“${f.name}” is no dashboard.`);
    }
  };

  return (
    <Modal title="New dashboard" width={560} onClose={onClose}>
      <form onSubmit={submit}>
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
        {copied && (
          <div className="mb-3 grid grid-cols-2 gap-3">
            <label>
              Of
              <select className="input mt-1" value={whose} onChange={(e) => setWhose(e.target.value)}>
                <option value="">those it is of</option>
                <option value="everyone">everyone</option>
                {subjects.map((s) => (
                  <option key={`${s.kind} ${s.id}`} value={`${s.kind} ${s.id}`}>
                    {s.name}
                  </option>
                ))}
              </select>
            </label>
            <label>
              In
              <select className="input mt-1" value={within} onChange={(e) => setWithin(e.target.value)}>
                <option value="">its own period</option>
                {schema?.periods.map((p) => (
                  <option key={p.word} value={p.word}>
                    {p.label}
                  </option>
                ))}
              </select>
            </label>
          </div>
        )}
        {set && (
          <p className="mb-3 text-[13px] text-ink2">
            Its reports are kept in the same folder: {set.panels.join(", ")}.
          </p>
        )}
        <TextField form={form} name="title" label="Name" maxLength={200} />
        <FolderField form={form} name="folder" folders={folders} />
        <FormEnd form={form} off={busy || !title.trim()} action="Make" />
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
