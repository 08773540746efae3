import { useState } from "react";
import type { Brief, SchemaInfo } from "../../api/client";
import { useBoards, useFiltersSaid } from "../../api/hooks";
import { type Filters, isEmpty } from "../../api/panels";
import { startOf } from "../../brief/edits";
import { FilterBar } from "./FilterBar";

/** A report under a dashboard's filters, before it is placed: which ones, and what it obeys. */
export function Trying({
  schema,
  brief,
  first,
  value,
  onChange,
  onLeave,
}: {
  schema: SchemaInfo;
  brief: Brief;
  /** The dashboard that the report is begun for. */
  first?: number;
  value: Filters;
  onChange: (f: Filters) => void;
  onLeave: () => void;
}) {
  const boards = useBoards().data ?? [];
  const [chosen, setChosen] = useState(first);
  const board = boards.find((b) => b.id === chosen);
  const { obeys = [], ignores = [] } = useFiltersSaid(value, brief)?.under ?? {};
  return (
    <section aria-label="Tried on a dashboard" className="sheet mt-2 px-4 py-2.5 print:hidden">
      <div className="mb-1 flex flex-wrap items-center gap-2 text-[13px]">
        <label className="flex items-center gap-2">
          Tried as on
          <select
            className="input !w-60"
            value={chosen ?? ""}
            onChange={(e) => {
              const id = Number(e.target.value) || undefined;
              setChosen(id);
              onChange((boards.find((b) => b.id === id)?.filters ?? {}) as Filters);
            }}
          >
            <option value="">any dashboard</option>
            {boards.map((b) => (
              <option key={b.id} value={b.id}>
                {b.title}
              </option>
            ))}
          </select>
        </label>
        <span className="mr-auto text-ink2">
          {isEmpty(value)
            ? "Set what the dashboard is read by. The report itself stays as it is."
            : [obeys.length > 0 && `obeys ${obeys.join(", ")}`, ignores.length > 0 && `not ${ignores.join("; not ")}`]
                .filter(Boolean)
                .join(" · ")}
        </span>
        <button type="button" className="link" onClick={onLeave}>
          Leave
        </button>
      </div>
      <FilterBar
        schema={schema}
        starts={[startOf(brief)]}
        value={value}
        kept={(board?.filters ?? {}) as Filters}
        mayKeep={false}
        onChange={onChange}
        onKeep={() => {}}
      />
    </section>
  );
}
