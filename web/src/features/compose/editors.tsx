import { useState } from "react";
import type { Brief, Group, SchemaInfo, Summary } from "../../api/client";
import { Seg } from "../../ui/Seg";
import { ValuePicker } from "./ConditionEditor";
import { begin, dropGroup, freeKey, keyFor, moved, moveGroup, setGroup, setSummaries, swapAxes, tidy } from "./edits";
import { FieldFinder } from "./FieldFinder";
import { Formula } from "./Formula";
import { type Found, fieldAt, isDated, isNumeric, typeOf } from "./fields";
import { GroupEditor as Conditions } from "./TreeEditor";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void };

export function StartEditor({ schema, brief, onChange }: Props) {
  return (
    <div role="listbox" aria-label="Record types">
      {schema.types.map((t) => (
        <button
          key={t.key}
          type="button"
          role="option"
          aria-selected={t.key === brief.start}
          className="pick"
          onClick={() => t.key !== brief.start && onChange(begin(t.key))}
        >
          {t.label}
        </button>
      ))}
      <p className="mt-2 px-2 text-ink3 text-xs">Another record type begins a new report.</p>
    </div>
  );
}

export function WhoseEditor({ schema, brief, onChange, onDone }: Props & { onDone?: () => void }) {
  const w = brief.whose ?? "everyone";
  const lists = typeof w === "object" ? w : {};
  const people = typeOf(schema, schema.readers);
  const team = people?.fields.find((f) => f.to === "teams");
  const set = (whose: Brief["whose"]) => {
    const { whose: _, ...rest } = brief;
    const none = typeof whose === "object" && !whose.people?.length && !whose.teams?.length;
    onChange(whose === "everyone" || none ? rest : { ...rest, whose });
  };
  return (
    <div>
      <div role="listbox" aria-label="Whose records">
        {(
          [
            ["everyone", "Everyone's"],
            ["mine", "Mine"],
            ["team", "My team's"],
          ] as const
        ).map(([v, text]) => (
          <button
            key={v}
            type="button"
            role="option"
            aria-selected={w === v}
            className="pick"
            onClick={() => {
              set(v);
              onDone?.();
            }}
          >
            {text}
          </button>
        ))}
      </div>
      <p className="mt-3 mb-1 px-1 font-semibold">Or these people</p>
      <ValuePicker
        start={brief.start as string}
        path={typeOf(schema, brief.start)?.owner ?? "owner"}
        values={lists.people ?? []}
        onChange={(people) => set({ ...lists, people })}
      />
      {team && (
        <>
          <p className="mt-3 mb-1 px-1 font-semibold">Or these teams</p>
          <ValuePicker start={schema.readers} path={team.key} values={lists.teams ?? []} onChange={(teams) => set({ ...lists, teams })} />
        </>
      )}
    </div>
  );
}

/** Every field groups; a number of a record only its own, one group a record. */
const groupable = (f: Found) => f.field.kind !== "id" || f.path === "id";

export function GroupEditor({
  schema,
  brief,
  onChange,
  axis,
  at,
  onDone,
}: Props & { axis: "groups" | "across"; at: number; onDone: () => void }) {
  const list = brief[axis] ?? [];
  const g: Group | undefined = list[at];
  const [choosing, setChoosing] = useState(!g);
  const start = brief.start as string;
  const found = g?.field ? fieldAt(schema, start, g.field) : undefined;
  if (choosing || !g) {
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find a field to group by"
        fits={groupable}
        onPick={(f) => {
          onChange(setGroup(brief, axis, at, isDated(f.field.kind) ? { field: f.path, by: "month" } : { field: f.path }));
          setChoosing(false);
        }}
      />
    );
  }
  const put = (change: Partial<Group>) => onChange(setGroup(brief, axis, at, { ...g, ...change }));
  const summaries = brief.summaries?.length ? brief.summaries : [{ key: "count", fn: "count" } as Summary];
  return (
    <div>
      <div className="mb-2 flex items-center gap-1">
        <button
          type="button"
          className="btn btn-quiet !px-1 font-semibold underline decoration-dotted"
          title="Choose another field"
          onClick={() => setChoosing(true)}
        >
          {found?.label ?? g.field}
        </button>
        <span className="ml-auto" />
        {list.length > 1 && (
          <>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              disabled={at === 0}
              onClick={() => onChange(moveGroup(brief, axis, at, -1))}
            >
              Earlier
            </button>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              disabled={at === list.length - 1}
              onClick={() => onChange(moveGroup(brief, axis, at, 1))}
            >
              Later
            </button>
          </>
        )}
        <button
          type="button"
          className="btn btn-quiet !px-2"
          onClick={() => {
            onChange(dropGroup(brief, axis, at));
            onDone();
          }}
        >
          Remove
        </button>
      </div>
      {found && isDated(found.field.kind) && (
        <div role="listbox" aria-label="Unit of time" className="mb-2 grid grid-cols-2">
          {schema.units
            .filter((u) => u !== "hour" || found.field.kind === "time")
            .map((u) => (
              <button key={u} type="button" role="option" aria-selected={g.by === u} className="pick" onClick={() => put({ by: u })}>
                by {u.replaceAll("_", " ")}
              </button>
            ))}
        </div>
      )}
      <label className="mb-1 block" htmlFor="group-order">
        In order of
      </label>
      <select
        id="group-order"
        className="input"
        value={g.order ? `${g.order.by} ${g.order.desc ? "d" : "a"}` : ""}
        onChange={(e) => {
          const { order: _, ...rest } = g;
          const [by, dir] = e.target.value.split(" ");
          onChange(setGroup(brief, axis, at, by ? { ...rest, order: { by, ...(dir === "d" ? { desc: true } : {}) } } : rest));
        }}
      >
        <option value="">its own order, or the first summary</option>
        <option value="label a">label, upwards</option>
        <option value="label d">label, downwards</option>
        {summaries.flatMap((s) => [
          <option key={`${s.key} d`} value={`${s.key} d`}>
            {s.key.replaceAll("_", " ")}, largest first
          </option>,
          <option key={`${s.key} a`} value={`${s.key} a`}>
            {s.key.replaceAll("_", " ")}, smallest first
          </option>,
        ])}
      </select>
      <GroupMore {...{ schema, brief, onChange, axis, at, g, summaries }} />
    </div>
  );
}

const listable = ["date", "time", "choice", "yesno", "link"];

/** What a group shows: all of its values, or the largest and the rest; and how it is called. */
function GroupMore({
  schema,
  brief,
  onChange,
  axis,
  at,
  g,
  summaries,
}: Props & { axis: "groups" | "across"; at: number; g: Group; summaries: Summary[] }) {
  const found = g.field ? fieldAt(schema, brief.start as string, g.field) : undefined;
  const put = (next: Group) => onChange(setGroup(brief, axis, at, next));
  const { top, every, label, ...rest } = g;
  const shows = top ? "top" : every ? "every" : "all";
  const topNow = top ?? { n: 6, by: summaries[summaries.length - 1].key };
  return (
    <>
      <p className="mt-3 mb-1">Shows</p>
      <Seg
        label="Which groups are shown"
        value={shows}
        onChange={(v) => {
          const { order: _, ...without } = rest;
          if (v === "top") put({ ...without, ...(label ? { label } : {}), top: topNow });
          else put({ ...rest, ...(label ? { label } : {}), ...(v === "every" ? { every: true } : {}) });
        }}
        options={
          found && (listable.includes(found.field.kind) || found.path.startsWith("own."))
            ? [
                ["all", "What there is"],
                ["every", "Every one"],
                ["top", "The first few"],
              ]
            : [
                ["all", "What there is"],
                ["top", "The first few"],
              ]
        }
      />
      {top && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          the
          <input
            className="input !w-16"
            type="number"
            min={1}
            max={100}
            aria-label="How many groups"
            value={top.n}
            onChange={(e) => Number(e.target.value) > 0 && put({ ...g, top: { ...top, n: Number(e.target.value) } })}
          />
          <select
            className="input !w-auto"
            aria-label="Largest or smallest"
            value={top.from ?? "largest"}
            onChange={(e) => put({ ...g, top: { ...top, from: e.target.value } })}
          >
            <option value="largest">largest</option>
            <option value="smallest">smallest</option>
          </select>
          by
          <select
            className="input !w-auto"
            aria-label="Measured by"
            value={top.by}
            onChange={(e) => put({ ...g, top: { ...top, by: e.target.value } })}
          >
            {summaries.map((s) => (
              <option key={s.key} value={s.key}>
                {s.label || s.key.replaceAll("_", " ")}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={top.rest !== "drop"}
              onChange={(e) => put({ ...g, top: { ...top, rest: e.target.checked ? "other" : "drop" } })}
            />
            the rest as Other
          </label>
        </div>
      )}
      <label className="mt-3 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={brief.blank === false}
          onChange={(e) => onChange(tidy({ ...brief, blank: e.target.checked ? false : undefined }))}
        />
        leave out (blank), in all groups
      </label>
      <label className="mt-3 mb-1 block" htmlFor="group-label">
        Called
      </label>
      <input
        id="group-label"
        className="input"
        placeholder={found?.label ?? ""}
        value={label ?? ""}
        onChange={(e) => {
          const name = e.target.value;
          put({ ...rest, ...(top ? { top } : {}), ...(every ? { every } : {}), ...(name ? { label: name } : {}) });
        }}
      />
      {axis === "groups" && (brief.across?.length ?? 0) > 0 && (
        <button type="button" className="link mt-3 text-[13px]" onClick={() => onChange(swapAxes(brief))}>
          Swap rows and columns
        </button>
      )}
    </>
  );
}

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
  fn === "distinct" || fn === "filled" ? true : isNumeric(f.field.kind) || ((fn === "min" || fn === "max") && isDated(f.field.kind));

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
  const brought = brief.bring ? [brief.bring.link, ...(brief.bring.bring ? [`${brief.bring.link}.${brief.bring.bring.link}`] : [])] : [];
  return (
    <div>
      <ul aria-label="Summaries">
        {list.map((s, i) => (
          <li key={s.key} className={`rounded-md border ${open === i ? "border-line" : "border-transparent"}`}>
            <div className="flex items-center gap-1">
              <button type="button" className="pick" aria-expanded={open === i} onClick={() => setOpen(open === i ? -1 : i)}>
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
        <input id={`${id}-label`} className="input mt-1" value={s.label ?? ""} onChange={(e) => set({ label: e.target.value })} />
      </label>
      {s.formula !== undefined && <Formula label="Formula" value={s.formula} onChange={(formula) => set({ formula })} />}
      {grouped && (
        <label className="block" htmlFor={`${id}-show`}>
          Shown as
          <select id={`${id}-show`} className="input mt-1" value={s.show ?? ""} onChange={(e) => set({ show: e.target.value })}>
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
            onChange={(e) => set({ format: trim({ ...s.format, decimals: e.target.value === "" ? undefined : Number(e.target.value) }) })}
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
        <input id="formula-name" className="input mt-1" placeholder="Win rate" value={name} onChange={(e) => setName(e.target.value)} />
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
