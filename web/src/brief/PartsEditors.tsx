import { useState } from "react";
import type { Brief, Group, SchemaInfo } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { type Found, fieldAt, isDated, typeOf } from "../fields/fields";
import { Seg } from "../ui/Seg";
import { dropGroup, setGroup } from "./edits";
import { beside, partOf, putPart, withoutPart } from "./parts";
import { SummariesEditor } from "./SummariesEditor";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };

/** Chooses the record type that is set beside what the report has. */
export function BesideEditor({ schema, brief, onChange, onDone }: Props) {
  return (
    <div role="listbox" aria-label="Record types to set beside">
      <p className="mb-1 px-2 text-[13px] text-ink2">
        Their numbers stand side by side under the same groups; no rows are joined.
      </p>
      {schema.types.map((t) => (
        <button
          key={t.key}
          type="button"
          role="option"
          aria-selected={false}
          className="pick"
          onClick={() => {
            onChange(beside(schema, brief, t.key));
            onDone();
          }}
        >
          {t.label}
        </button>
      ))}
    </div>
  );
}

/** The record type of one part, and the way to take it out. */
export function PartEditor({ schema, brief, onChange, onDone, part }: Props & { part: number }) {
  const p = brief.parts?.[part];
  return (
    <div>
      <p className="mb-3">
        {typeOf(schema, p?.start)?.label}, called “{p?.key}” in this report.
      </p>
      <button
        type="button"
        className="btn"
        onClick={() => {
          onChange(withoutPart(brief, part));
          onDone();
        }}
      >
        Take these records out
      </button>
    </div>
  );
}

/** A group of a report over several record types: the field that each of them goes by. */
export function PartsGroupEditor({
  schema,
  brief,
  onChange,
  onDone,
  axis,
  at,
}: Props & { axis: "groups" | "across"; at: number }) {
  const parts = brief.parts ?? [];
  const g: Group = brief[axis]?.[at] ?? { paths: {} };
  const missing = parts.findIndex((p) => !g.paths?.[p.key ?? ""]);
  const [choosing, setChoosing] = useState(missing);
  const [paths, setPaths] = useState<Record<string, string>>(g.paths ?? {});
  const kinds = parts.map((p) => fieldAt(schema, p.start, paths[p.key ?? ""] ?? "")?.field);
  const dated = kinds.some((f) => f && isDated(f.kind));
  const put = (next: Record<string, string>, more: Partial<Group> = {}) => {
    setPaths(next);
    if (parts.some((p) => !next[p.key ?? ""])) return;
    const first = fieldAt(schema, parts[0].start, next[parts[0].key ?? ""]);
    const { by, ...rest } = { ...g, ...more };
    const time = first && isDated(first.field.kind) ? { by: by ?? "month" } : {};
    onChange(setGroup(brief, axis, at, { ...rest, label: rest.label ?? first?.label, paths: next, ...time }));
  };
  if (choosing >= 0 && parts[choosing]) {
    const p = parts[choosing];
    const other = kinds.find((f, i) => f && i !== choosing);
    const fits = (f: Found) =>
      f.field.kind !== "id" &&
      (!other ||
        (isDated(other.kind)
          ? isDated(f.field.kind)
          : f.field.kind === other.kind && (f.field.to ?? "") === (other.to ?? "")));
    return (
      <div>
        <p className="mb-2 font-semibold">{typeOf(schema, p.start)?.label} go by …</p>
        <FieldFinder
          key={p.key}
          schema={schema}
          start={p.start ?? ""}
          label={`Find a field of ${typeOf(schema, p.start)?.label} to group by`}
          fits={fits}
          onPick={(f) => {
            const next = { ...paths, [p.key ?? ""]: f.path };
            put(next);
            setChoosing(parts.findIndex((x) => !next[x.key ?? ""]));
          }}
        />
      </div>
    );
  }
  return (
    <div>
      <label className="block" htmlFor="parts-label">
        Called
        <input
          id="parts-label"
          className="input mt-1"
          value={g.label ?? ""}
          onChange={(e) => put(paths, { label: e.target.value || undefined })}
        />
      </label>
      <ul className="my-2">
        {parts.map((p, i) => (
          <li key={p.key} className="flex items-center gap-2">
            <span className="mr-auto text-ink2">{typeOf(schema, p.start)?.label} by</span>
            <button type="button" className="link" onClick={() => setChoosing(i)}>
              {fieldAt(schema, p.start, paths[p.key ?? ""] ?? "")?.label ?? "choose …"}
            </button>
          </li>
        ))}
      </ul>
      {dated && (
        <select
          className="input"
          aria-label="Unit of time"
          value={g.by ?? "month"}
          onChange={(e) => put(paths, { by: e.target.value as Group["by"] })}
        >
          {schema.units
            .filter((u) => u !== "hour")
            .map((u) => (
              <option key={u} value={u}>
                by {u.replaceAll("_", " ")}
              </option>
            ))}
        </select>
      )}
      <div className="mt-3 flex justify-end">
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => {
            onChange(dropGroup(brief, axis, at));
            onDone();
          }}
        >
          Remove
        </button>
      </div>
    </div>
  );
}

/** The summaries of each part in turn. */
export function PartsSummaries({ schema, brief, onChange }: Props) {
  const parts = brief.parts ?? [];
  const [part, setPart] = useState("0");
  const i = Number(part);
  return (
    <div>
      <Seg
        label="Whose summaries"
        value={part}
        onChange={setPart}
        options={parts.map((p, k) => [String(k), typeOf(schema, p.start)?.label ?? p.key ?? ""])}
      />
      <div className="mt-2">
        <SummariesEditor
          key={part}
          schema={schema}
          brief={partOf(brief, i)}
          onChange={(b) => onChange(putPart(brief, i, b))}
        />
      </div>
    </div>
  );
}
