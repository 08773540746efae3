import type { Brief, Panel, SchemaInfo } from "../../api/client";
import { typeOf } from "../../fields/fields";

type Options = NonNullable<Panel["options"]>;

/** What a reader has switched panels of a report to. */
export type Switched = { value?: string; group?: string; kind?: string };

/** A panel as it is switched. */
export const switchedTo = (o: Options, to: Switched | undefined): Options =>
  to
    ? {
        ...o,
        ...(to.kind ? { kind: to.kind } : {}),
        ...(to.group ? { group: to.group } : {}),
        ...(to.value ? { looks: { ...o.looks, values: [to.value] } } : {}),
      }
    : o;

/** Switches what the panels of a report on a dashboard sum up and group by, for this reading. */
export function Switches({
  schema,
  title,
  brief,
  summaries,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  title: string;
  /** The panel's report as it is asked now. */
  brief: Brief;
  summaries: { key: string; label: string }[];
  value: Switched;
  onChange: (to: Switched) => void;
}) {
  const now = brief.groups?.[0]?.field ?? "";
  const fields = (typeOf(schema, brief.start)?.fields ?? []).filter(
    (f) => (f.kind === "choice" || (f.kind === "link" && !f.key.endsWith("_by"))) && !f.retired,
  );
  const groups = fields.map((f) => ({ path: f.key, label: f.label }));
  if (now && !groups.some((g) => g.path === now)) groups.unshift({ path: now, label: "as the report" });
  const drawn = value.value ?? brief.chart?.values?.[0] ?? summaries[0]?.key;
  const box = "rounded border border-line2 bg-paper px-1 py-0.5";
  return (
    <p className="mb-1 flex flex-wrap items-center gap-1.5 text-[13px]">
      {summaries.length > 1 && (
        <select
          className={box}
          aria-label={`${title}: what it sums up`}
          value={drawn}
          onChange={(e) => onChange({ ...value, value: e.target.value })}
        >
          {summaries.map((s) => (
            <option key={s.key} value={s.key}>
              {s.label}
            </option>
          ))}
        </select>
      )}
      <span className="text-ink2">by</span>
      <select
        className={box}
        aria-label={`${title}: what it groups by`}
        value={now}
        onChange={(e) => onChange({ ...value, group: e.target.value })}
      >
        {groups.map((g) => (
          <option key={g.path} value={g.path}>
            {g.label}
          </option>
        ))}
      </select>
      {(value.value || value.group || value.kind) && (
        <button type="button" className="link" onClick={() => onChange({})}>
          as it is kept
        </button>
      )}
    </p>
  );
}
