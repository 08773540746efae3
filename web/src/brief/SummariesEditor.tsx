import { useState } from "react";
import type { Brief, SchemaInfo, Summary } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { type Found, fieldAt, isDated, isNumeric } from "../fields/fields";
import { freeKey, keyFor, moved, setSummaries } from "./edits";
import { Formula } from "./Formula";
import { GroupEditor as Conditions } from "./TreeEditor";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void };

const fns: [string, string][] = [
  ["sum", "Sum"],
  ["average", "Average"],
  ["median", "Median"],
  ["min", "Least"],
  ["max", "Greatest"],
  ["distinct", "Different values"],
  ["filled", "Filled"],
];

const suits = (fn: string) => (f: Found) =>
  fn === "distinct" || fn === "filled"
    ? true
    : isNumeric(f.field.kind) || ((fn === "min" || fn === "max") && isDated(f.field.kind));

export function SummariesEditor({ schema, brief, onChange }: Props) {
  const list: Summary[] = brief.summaries?.length ? brief.summaries : [{ key: "count", fn: "count" }];
  const [adding, setAdding] = useState<string>();
  const [open, setOpen] = useState(-1);
  const start = brief.start as string;
  const put = (next: Summary[]) => onChange(setSummaries(brief, next));
  const add = (fn: string, of?: string) => {
    put([...list, { key: keyFor(list, fn, of), fn, ...(of ? { of } : {}) }]);
    setAdding(undefined);
  };
  const words = (s: Summary) =>
    s.label ||
    (s.formula
      ? `${s.key} = ${s.formula}`
      : s.fn === "count"
        ? s.of
          ? `Count of ${s.of}`
          : "Count"
        : `${fns.find(([f]) => f === s.fn)?.[1]} of ${fieldAt(schema, start, s.of ?? "")?.label ?? s.of}`);
  if (adding === "formula") {
    return (
      <NewFormula
        list={list}
        onDone={(s) => {
          if (s) put([...list, s]);
          setAdding(undefined);
        }}
      />
    );
  }
  if (adding) {
    return (
      <div>
        <p className="mb-2 font-semibold">{fns.find(([f]) => f === adding)?.[1]} of …</p>
        <FieldFinder
          schema={schema}
          start={start}
          label="Find a field to sum up"
          fits={suits(adding)}
          onPick={(f) => add(adding, f.path)}
        />
      </div>
    );
  }
  const brought = brief.bring
    ? [brief.bring.link, ...(brief.bring.bring ? [`${brief.bring.link}.${brief.bring.bring.link}`] : [])]
    : [];
  return (
    <div>
      <ul aria-label="Summaries">
        {list.map((s, i) => (
          <li key={s.key} className={`rounded-md border ${open === i ? "border-line" : "border-transparent"}`}>
            <div className="flex items-center gap-1">
              <button
                type="button"
                className="pick"
                aria-expanded={open === i}
                onClick={() => setOpen(open === i ? -1 : i)}
              >
                {words(s)}
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                disabled={i === 0}
                aria-label={`${words(s)} earlier`}
                onClick={() => put(moved(list, i, i - 1))}
              >
                ↑
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-2"
                disabled={list.length === 1}
                aria-label={`Remove ${words(s)}`}
                onClick={() => put(list.filter((_, k) => k !== i))}
              >
                Remove
              </button>
            </div>
            {open === i && (
              <SummaryMore
                schema={schema}
                start={start}
                s={s}
                grouped={(brief.groups?.length ?? 0) + (brief.across?.length ?? 0) > 0}
                onChange={(next) => put(list.map((x, k) => (k === i ? next : x)))}
              />
            )}
          </li>
        ))}
      </ul>
      <p className="mt-3 mb-1 px-2 text-ink2">Add</p>
      <div className="grid grid-cols-2">
        {!list.some((s) => s.fn === "count" && !s.of) && (
          <button type="button" className="pick" onClick={() => add("count")}>
            Count
          </button>
        )}
        {brought.map((path) => (
          <button key={path} type="button" className="pick" onClick={() => add("count", path)}>
            Count of {path.replace(".", " › ")}
          </button>
        ))}
        {fns.map(([fn, text]) => (
          <button key={fn} type="button" className="pick" onClick={() => setAdding(fn)}>
            {text} of …
          </button>
        ))}
        <button type="button" className="pick" onClick={() => setAdding("formula")}>
          A formula …
        </button>
      </div>
    </div>
  );
}

const shows: [string, string][] = [
  ["", "the value"],
  ["percent_of_total", "share of the total"],
  ["percent_of_parent", "share of the group above"],
  ["percent_of_row", "share of the row"],
  ["percent_of_column", "share of the column"],
  ["running_total", "running total"],
  ["change", "change from the group before"],
];

/** How one summary is called, narrowed, shown and written. */
function SummaryMore({
  schema,
  start,
  s,
  grouped,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  s: Summary;
  grouped: boolean;
  onChange: (s: Summary) => void;
}) {
  const set = (change: Partial<Summary>) => {
    const next = { ...s, ...change } as Record<string, unknown>;
    for (const [k, v] of Object.entries(next)) if (v === undefined || v === "") delete next[k];
    onChange(next as Summary);
  };
  const id = `summary-${s.key}`;
  const where = s.where ?? { all: [] };
  return (
    <div className="space-y-2 border-line border-t p-2">
      <label className="block" htmlFor={`${id}-label`}>
        Called
        <input
          id={`${id}-label`}
          className="input mt-1"
          value={s.label ?? ""}
          onChange={(e) => set({ label: e.target.value })}
        />
      </label>
      {s.formula !== undefined && (
        <Formula label="Formula" value={s.formula} onChange={(formula) => set({ formula })} />
      )}
      {grouped && (
        <label className="block" htmlFor={`${id}-show`}>
          Shown as
          <select
            id={`${id}-show`}
            className="input mt-1"
            value={s.show ?? ""}
            onChange={(e) => set({ show: e.target.value })}
          >
            {shows
              .filter(([v]) => v !== "running_total" || s.fn === "count" || s.fn === "sum")
              .map(([v, text]) => (
                <option key={v} value={v}>
                  {text}
                </option>
              ))}
          </select>
        </label>
      )}
      <div className="flex items-center gap-2">
        <label className="flex items-center gap-2" htmlFor={`${id}-decimals`}>
          decimals
          <input
            id={`${id}-decimals`}
            className="input !w-16"
            type="number"
            min={0}
            max={6}
            value={s.format?.decimals ?? ""}
            onChange={(e) =>
              set({
                format: trim({ ...s.format, decimals: e.target.value === "" ? undefined : Number(e.target.value) }),
              })
            }
          />
        </label>
        <select
          className="input !w-auto"
          aria-label="Unit"
          value={s.format?.style === "percent" ? "percent" : (s.format?.unit ?? "")}
          onChange={(e) =>
            set({
              format: trim({
                ...s.format,
                style: e.target.value === "percent" ? "percent" : undefined,
                unit: e.target.value === "percent" ? undefined : e.target.value || undefined,
              }),
            })
          }
        >
          <option value="">plain</option>
          <option value="K">in thousands (K)</option>
          <option value="M">in millions (M)</option>
          <option value="percent">as percent</option>
        </select>
      </div>
      {s.formula === undefined && (
        <details open={!!s.where}>
          <summary className="cursor-pointer text-ink2">only where…</summary>
          <div className="mt-1">
            <Conditions
              schema={schema}
              start={start}
              value={where.all || where.any ? where : { all: [where] }}
              onChange={(w) => set({ where: w.all?.length === 0 ? undefined : w })}
            />
          </div>
        </details>
      )}
    </div>
  );
}

const trim = <T extends object>(o: T): T | undefined => {
  const kept = Object.entries(o).filter(([, v]) => v !== undefined && v !== "");
  return kept.length ? (Object.fromEntries(kept) as T) : undefined;
};

/** A formula over the summaries by their keys. */
function NewFormula({ list, onDone }: { list: Summary[]; onDone: (s?: Summary) => void }) {
  const [name, setName] = useState("");
  const [formula, setFormula] = useState("");
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        const key = freeKey(
          name || "rate",
          list.map((s) => s.key),
        );
        onDone({
          key,
          formula,
          ...(name ? { label: name } : {}),
          ...(formula.includes("/") ? { format: { style: "percent", decimals: 1 } } : {}),
        });
      }}
    >
      <label className="mb-2 block" htmlFor="formula-name">
        Called
        <input
          id="formula-name"
          className="input mt-1"
          placeholder="Win rate"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <Formula label="Formula" value={formula} onChange={setFormula} words={list.map((s) => s.key)} />
      <div className="mt-3 flex justify-end gap-2">
        <button type="button" className="btn btn-quiet" onClick={() => onDone()}>
          Not now
        </button>
        <button type="submit" className="btn btn-main" disabled={!formula.trim()}>
          Add
        </button>
      </div>
    </form>
  );
}
