import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Board, type Brief, type Schemas } from "../../api/client";
import { useReports, useStarters } from "../../api/hooks";
import { anew } from "../../api/keys";
import { isFigure } from "../../chart/kinds";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";
import { searched } from "../../ui/words";

type Starter = Schemas["StarterBody"];

/** Whether a brief is drawn, and not a table alone. */
const drawn = (b: Brief) => (b.groups?.length ?? 0) > 0 || isFigure(b.chart?.kind);

/** Finds a report or a starter and places it; a starter becomes a report in the board's folder first. */
export function AddPanel({
  board,
  onAdd,
  onClose,
}: {
  board: Board;
  onAdd: (report: number) => void;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const reports = useReports().data ?? [];
  const starters = useStarters();
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const has = searched(search);
  const place = (id: number, title: string, brief: Brief) => {
    onAdd(id);
    toast(drawn(brief) ? `“${title}” placed` : `“${title}” placed as a table: it has no groups, and so no chart`);
    onClose();
  };
  const [keep] = useDo(
    (s: Starter) =>
      ask(
        api.POST("/api/reports", {
          body: { title: s.title, description: s.about, folder: board.folder, brief: s.brief },
        }),
      ),
    (r) => {
      client.setQueryData(["report", r.id], r);
      anew(client, "reports", "find");
      place(r.id, r.title, r.brief);
    },
  );
  const all = [
    ...reports
      .filter((r) => has(r.title, r.description, r.text))
      .map((r) => ({
        key: `r${r.id}`,
        title: r.title,
        about: r.description || r.text,
        starter: false,
        act: () => place(r.id, r.title, r.brief),
      })),
    ...(starters.data ?? [])
      .filter((s) => has(s.title, s.about, s.text, s.category))
      .map((s) => ({ key: s.key, title: s.title, about: s.about, starter: true, act: () => keep(s) })),
  ];
  // What has the words in its title comes first.
  const found = [...all.filter((f) => has(f.title)), ...all.filter((f) => !has(f.title))];
  const here = Math.min(at, found.length - 1);
  return (
    <Modal title="Place a report" width={560} onClose={onClose}>
      <input
        className="input"
        role="combobox"
        aria-expanded="true"
        aria-controls="placeable"
        aria-activedescendant={found[here] && `place-${found[here].key}`}
        aria-label="Find a report or a starter"
        placeholder="Words in a report or a starter"
        // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
        autoFocus
        value={search}
        onChange={(e) => {
          setSearch(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(found.length - 1, here + 1));
          else if (e.key === "ArrowUp") setAt(Math.max(0, here - 1));
          else if (e.key === "Enter") found[here]?.act();
          else return;
          e.preventDefault();
        }}
      />
      <div id="placeable" role="listbox" aria-label="Reports and starters" className="mt-2 max-h-[50vh] overflow-auto">
        {found.map((f, i) => (
          <button
            key={f.key}
            id={`place-${f.key}`}
            type="button"
            role="option"
            aria-selected={i === here}
            className="pick !items-baseline"
            ref={i === here ? (e) => e?.scrollIntoView({ block: "nearest" }) : undefined}
            onClick={f.act}
          >
            <span className="min-w-0">
              <span className="block font-semibold">{f.title}</span>
              <span className="block truncate text-ink2 text-[13px]">{f.about}</span>
            </span>
            <span className="ml-auto shrink-0 text-ink3 text-xs">{f.starter ? "starter" : "report"}</span>
          </button>
        ))}
        {found.length === 0 && <p className="px-2 py-4 text-ink2">Nothing has these words. Try fewer.</p>}
      </div>
    </Modal>
  );
}
