import { useState } from "react";
import type { Brief, TypeInfo } from "../../api/client";
import { useMe, useReports, useStarters } from "../../api/hooks";
import { Modal } from "../../ui/Modal";
import { searched } from "../../ui/words";
import { Thumb } from "../reports/Thumb";
import { type Drawn, drawn, drawnBy } from "./drawing";

/** Charts of reports there are and of starters, each as it looks over the list. */
export function ReadyCharts({
  type,
  list,
  onPick,
  onClose,
}: {
  type: TypeInfo;
  list: Brief;
  onPick: (d: Drawn) => void;
  onClose: () => void;
}) {
  const me = useMe().data;
  const reports = useReports().data ?? [];
  const starters = useStarters().data ?? [];
  const [search, setSearch] = useState("");
  const has = searched(search);
  const all = [
    ...reports.map((r) => ({
      key: `r${r.id}`,
      title: r.title,
      of: r.ownerId === me?.id ? "yours" : r.owner,
      brief: r.brief,
    })),
    ...starters.map((s) => ({ key: s.key, title: s.title, of: "ready", brief: s.brief })),
  ].flatMap((c) => {
    const d = c.brief.start === type.key ? drawnBy(c.brief) : undefined;
    return d && has(c.title, c.of) ? [{ ...c, d }] : [];
  });
  return (
    <Modal title={`Charts of ${type.label.toLowerCase()}`} width={860} onClose={onClose}>
      <input
        className="input mb-3 !w-72"
        type="search"
        aria-label="Find a chart"
        placeholder="Find by title"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
      />
      <div className="grid max-h-[60vh] gap-3 overflow-auto sm:grid-cols-3">
        {all.map((c) => (
          <button
            key={c.key}
            type="button"
            className="sheet min-w-0 p-3 text-left hover:border-[var(--amber)]"
            onClick={() => onPick(c.d)}
          >
            <span className="block truncate font-semibold">{c.title}</span>
            <span className="text-ink2 text-xs">{c.of}</span>
            <Thumb brief={drawn(list, c.d)} />
          </button>
        ))}
      </div>
      {all.length === 0 && <p className="text-ink2">No report draws these records in a way that a list can follow.</p>}
    </Modal>
  );
}
