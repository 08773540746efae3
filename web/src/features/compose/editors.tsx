import { useState } from "react";
import type { Brief, Group, SchemaInfo, Summary } from "../../api/client";
import { Seg } from "../../ui/Seg";
import { ValuePicker } from "./ConditionEditor";
import { begin, dropGroup, keyFor, moveGroup, setGroup, setSummaries } from "./edits";
import { FieldFinder } from "./FieldFinder";
import { type Found, fieldAt, isDated, isNumeric, typeOf } from "./fields";

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

export function WhoseEditor({ schema, brief, onChange }: Props) {
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
            ["everyone", "Everyone’s"],
            ["mine", "Mine"],
            ["team", "My team’s"],
          ] as const
        ).map(([v, text]) => (
          <button key={v} type="button" role="option" aria-selected={w === v} className="pick" onClick={() => set(v)}>
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

const groupable = (f: Found) => f.field.kind !== "id";

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
          Take out
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
    </div>
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
  const start = brief.start as string;
  const add = (fn: string, of?: string) => {
    onChange(setSummaries(brief, [...list, { key: keyFor(list, fn, of), fn, ...(of ? { of } : {}) }]));
    setAdding(undefined);
  };
  const words = (s: Summary) =>
    s.formula
      ? `${s.key} = ${s.formula}`
      : s.fn === "count"
        ? "Count"
        : `${fns.find(([f]) => f === s.fn)?.[1]} of ${fieldAt(schema, start, s.of ?? "")?.label ?? s.of}`;
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
  return (
    <div>
      <ul aria-label="Summaries">
        {list.map((s, i) => (
          <li key={s.key} className="flex items-center gap-2 py-1 pl-2">
            <span className="mr-auto">{words(s)}</span>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              disabled={list.length === 1}
              aria-label={`Take out ${words(s)}`}
              onClick={() =>
                onChange(
                  setSummaries(
                    brief,
                    list.filter((_, k) => k !== i),
                  ),
                )
              }
            >
              Take out
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-3 mb-1 px-2 text-ink2">Add</p>
      <div className="grid grid-cols-2">
        {!list.some((s) => s.fn === "count") && (
          <button type="button" className="pick" onClick={() => add("count")}>
            Count
          </button>
        )}
        {fns.map(([fn, text]) => (
          <button key={fn} type="button" className="pick" onClick={() => setAdding(fn)}>
            {text} of …
          </button>
        ))}
      </div>
    </div>
  );
}

const kindWords: Record<string, string> = { column: "Column", bar: "Bar", funnel: "Funnel", pie: "Pie", line: "Line" };

export function ChartEditor({ schema, brief, onChange }: Props) {
  const c = brief.chart ?? { kind: "column" };
  const sums = brief.summaries ?? [];
  return (
    <div>
      <div role="listbox" aria-label="Kind of chart" className="grid grid-cols-2">
        {schema.chartKinds.map((k) => (
          <button
            key={k}
            type="button"
            role="option"
            aria-selected={c.kind === k}
            className="pick"
            onClick={() => onChange({ ...brief, chart: { ...c, kind: k } })}
          >
            {kindWords[k] ?? k}
          </button>
        ))}
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Seg
          label="Labels"
          value={c.measure === "share" ? "share" : "value"}
          onChange={(m) => onChange({ ...brief, chart: { ...c, measure: m } })}
          options={[
            ["value", "Values"],
            ["share", "Shares"],
          ]}
        />
        {(c.kind === "column" || c.kind === "bar") && (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={!!c.stacked}
              onChange={(e) => onChange({ ...brief, chart: { ...c, stacked: e.target.checked } })}
            />
            stacked
          </label>
        )}
      </div>
      {sums.length > 1 && (
        <>
          <label className="mt-3 mb-1 block" htmlFor="chart-value">
            Draws
          </label>
          <select
            id="chart-value"
            className="input"
            value={c.values?.[0] ?? ""}
            onChange={(e) => {
              const { values: _, ...rest } = c;
              onChange({ ...brief, chart: e.target.value ? { ...rest, values: [e.target.value] } : rest });
            }}
          >
            <option value="">what says most</option>
            {sums.map((s) => (
              <option key={s.key} value={s.key}>
                {s.key.replaceAll("_", " ")}
              </option>
            ))}
          </select>
        </>
      )}
    </div>
  );
}
