import { useState } from "react";
import type { Brief, SchemaInfo, Schemas } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { fieldAt, isDated, isNumeric, manyFrom, reach } from "../fields/fields";
import { Spread } from "../fields/Spread";
import { ValuePicker } from "../fields/ValuePicker";
import { Seg } from "../ui/Seg";
import { freeKey, tidy, withoutPaths } from "./edits";
import { Formula } from "./Formula";
import { ManyList } from "./ManyList";
import { GroupEditor as Conditions } from "./TreeEditor";

type Own = Schemas["Own"];
type Way = "formula" | "linked" | "bands" | "merge";

const ways: [Way, string][] = [
  ["formula", "Formula"],
  ["linked", "Linked records"],
  ["bands", "Bands"],
  ["merge", "Merged values"],
];

const fns: [string, string][] = [
  ["count", "count"],
  ["sum", "sum of"],
  ["average", "average"],
  ["median", "median"],
  ["min", "least"],
  ["max", "greatest"],
  ["distinct", "number of different"],
  ["filled", "number of filled"],
  ["newest", "newest"],
  ["oldest", "oldest"],
];

const wayOf = (o: Own): Way => (o.linked ? "linked" : o.bands ? "bands" : o.merge ? "merge" : "formula");

function ready(o: Own): boolean {
  if (o.formula !== undefined) return o.formula.trim() !== "";
  if (o.bands) return o.bands.of !== "" && o.bands.edges.length > 0;
  if (o.merge)
    return o.merge.of !== "" && o.merge.sets.length > 0 && o.merge.sets.every((s) => s.label && s.values.length > 0);
  const l = o.linked;
  return !!l && l.link !== "" && (l.fn === "count" || !!l.of) && ((l.fn !== "newest" && l.fn !== "oldest") || !!l.by);
}

/** Makes a field of the report's own, or changes one. A whole change is handed on at once. */
export function OwnEditor({
  schema,
  brief,
  at,
  onChange,
  onDone,
}: {
  schema: SchemaInfo;
  brief: Brief;
  at: number;
  onChange: (b: Brief) => void;
  onDone: () => void;
}) {
  const list = brief.own ?? [];
  const [place] = useState(at < list.length ? at : list.length);
  const [own, setOwn] = useState<Own>(
    list[place] ?? {
      key: freeKey(
        "field",
        list.map((o) => o.key),
      ),
      formula: "",
    },
  );
  const kept = place < list.length;
  const start = brief.start as string;
  const set = (next: Own) => {
    // A field that is not kept yet is called after its label.
    const named = kept
      ? next
      : {
          ...next,
          key: freeKey(
            next.label ?? "field",
            list.map((o) => o.key),
          ),
        };
    setOwn(named);
    if (kept && ready(named)) onChange({ ...brief, own: list.map((o, i) => (i === place ? named : o)) });
  };
  const way = wayOf(own);
  const turn = (w: Way) => {
    const base = { key: own.key, ...(own.label ? { label: own.label } : {}) };
    if (w === "formula") set({ ...base, formula: "" });
    if (w === "linked") set({ ...base, linked: { link: "", fn: "count" } });
    if (w === "bands") set({ ...base, bands: { of: "", edges: [] } });
    if (w === "merge") set({ ...base, merge: { of: "", sets: [] } });
  };
  return (
    <div>
      <label className="mb-2 block" htmlFor="own-label">
        Called
        <input
          id="own-label"
          className="input mt-1"
          placeholder="Age in days"
          value={own.label ?? ""}
          onChange={(e) => set({ ...own, label: e.target.value })}
        />
      </label>
      <Seg label="How it is worked out" value={way} onChange={turn} options={ways} />
      <div className="mt-3">
        {way === "formula" && (
          <Formula
            label="Formula"
            value={own.formula ?? ""}
            onChange={(formula) => set({ ...own, formula })}
            words={reach(schema, start, 1).map((f) => f.path)}
          />
        )}
        {own.linked && (
          <LinkedEditor
            schema={schema}
            start={start}
            value={own.linked}
            onChange={(linked) => set({ ...own, linked })}
          />
        )}
        {own.bands && (
          <BandsEditor schema={schema} start={start} value={own.bands} onChange={(bands) => set({ ...own, bands })} />
        )}
        {own.merge && (
          <MergeEditor schema={schema} start={start} value={own.merge} onChange={(merge) => set({ ...own, merge })} />
        )}
      </div>
      <div className="mt-4 flex justify-end gap-2">
        {kept ? (
          <button
            type="button"
            className="btn btn-quiet"
            onClick={() => {
              const without = withoutPaths(
                { ...brief, own: list.filter((_, i) => i !== place) },
                (p) => p === `own.${own.key}`,
              );
              onChange(tidy(without));
              onDone();
            }}
          >
            Remove
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-main"
            disabled={!ready(own)}
            onClick={() => {
              const columns = brief.columns?.length ? [...brief.columns, { field: `own.${own.key}` }] : brief.columns;
              onChange(tidy({ ...brief, own: [...list, own], columns }));
              onDone();
            }}
          >
            Add the field
          </button>
        )}
      </div>
    </div>
  );
}

function Chosen({ label, onAgain }: { label: string; onAgain: () => void }) {
  return (
    <button
      type="button"
      className="font-semibold underline decoration-dotted"
      title="Choose another"
      onClick={onAgain}
    >
      {label}
    </button>
  );
}

function LinkedEditor({
  schema,
  start,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  value: Schemas["Linked"];
  onChange: (l: Schemas["Linked"]) => void;
}) {
  const many = manyFrom(schema, start);
  const link = many.find((m) => m.path === value.link);
  const where = value.where ?? { all: [] };
  if (!link) return <ManyList many={many} onPick={(path) => onChange({ link: path, fn: "count" })} />;
  const by = value.fn === "newest" || value.fn === "oldest";
  return (
    <div>
      <div className="flex flex-wrap items-center gap-2">
        the
        <select
          className="input !w-auto"
          aria-label="What is worked out"
          value={value.fn}
          onChange={(e) =>
            onChange({ link: value.link, fn: e.target.value, ...(value.where ? { where: value.where } : {}) })
          }
        >
          {fns.map(([f, text]) => (
            <option key={f} value={f}>
              {text}
            </option>
          ))}
        </select>
        {value.of && (
          <Chosen
            label={fieldAt(schema, link.type, value.of)?.label ?? value.of}
            onAgain={() => onChange({ ...value, of: undefined })}
          />
        )}
        of its <Chosen label={link.label} onAgain={() => onChange({ link: "", fn: "count" })} />
        {by && value.of && value.by && (
          <>
            by{" "}
            <Chosen
              label={fieldAt(schema, link.type, value.by)?.label ?? value.by}
              onAgain={() => onChange({ ...value, by: undefined })}
            />
          </>
        )}
      </div>
      {value.fn !== "count" && !value.of && (
        <div className="mt-2">
          <FieldFinder
            schema={schema}
            start={link.type}
            label="Find the field it is worked out of"
            fits={(f) =>
              ["sum", "average", "median"].includes(value.fn)
                ? isNumeric(f.field.kind)
                : ["min", "max"].includes(value.fn)
                  ? isNumeric(f.field.kind) || isDated(f.field.kind)
                  : true
            }
            onPick={(f) => onChange({ ...value, of: f.path })}
          />
        </div>
      )}
      {by && value.of && !value.by && (
        <div className="mt-2">
          <p className="mb-1 text-ink2 text-[13px]">newest or oldest by</p>
          <FieldFinder
            schema={schema}
            start={link.type}
            label="Find the date it goes by"
            fits={(f) => isDated(f.field.kind)}
            onPick={(f) => onChange({ ...value, by: f.path })}
          />
        </div>
      )}
      <details className="mt-2" open={!!value.where}>
        <summary className="cursor-pointer text-ink2">only where…</summary>
        <div className="mt-1">
          <Conditions
            schema={schema}
            start={link.type}
            value={where.all || where.any ? where : { all: [where] }}
            onChange={(w) => {
              const { where: _, ...rest } = value;
              onChange(w.all?.length === 0 ? rest : { ...rest, where: w });
            }}
          />
        </div>
      </details>
    </div>
  );
}

function BandsEditor({
  schema,
  start,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  value: Schemas["Bands"];
  onChange: (b: Schemas["Bands"]) => void;
}) {
  const [text, setText] = useState(value.edges.join(", "));
  if (!value.of)
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find the number to cut into bands"
        fits={(f) => isNumeric(f.field.kind)}
        onPick={(f) => onChange({ ...value, of: f.path })}
      />
    );
  const edges = text.split(/[,;\n]/).map((v) => v.trim().replace(/[\s€$£]/g, ""));
  const bad = edges.some(
    (e, i) => e !== "" && (!/^-?\d+(\.\d+)?$/.test(e) || (i > 0 && Number(e) <= Number(edges[i - 1]))),
  );
  return (
    <div>
      <Chosen
        label={fieldAt(schema, start, value.of)?.label ?? value.of}
        onAgain={() => onChange({ of: "", edges: value.edges })}
      />
      <Spread
        start={start}
        path={value.of}
        edges={value.edges}
        onChange={(list) => {
          setText(list.join(", "));
          onChange({ ...value, edges: list });
        }}
      />
      <label className="mt-2 block" htmlFor="band-edges">
        Edges, from the lowest up
        <input
          id="band-edges"
          className="input mt-1"
          placeholder="10000, 60000"
          aria-invalid={bad}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            const list = e.target.value
              .split(/[,;\n]/)
              .map((v) => v.trim().replace(/[\s€$£]/g, ""))
              .filter(Boolean);
            if (list.every((x, i) => /^-?\d+(\.\d+)?$/.test(x) && (i === 0 || Number(x) > Number(list[i - 1]))))
              onChange({ ...value, edges: list });
          }}
        />
      </label>
      {bad && <p className="mt-1 text-rust text-xs">Numbers that rise, with commas between them</p>}
    </div>
  );
}

function MergeEditor({
  schema,
  start,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  value: Schemas["Merge"];
  onChange: (m: Schemas["Merge"]) => void;
}) {
  if (!value.of)
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find the text or choice to merge"
        fits={(f) => f.field.kind === "text" || f.field.kind === "choice"}
        onPick={(f) => onChange({ ...value, of: f.path, sets: [{ label: "", values: [] }] })}
      />
    );
  const put = (i: number, change: Partial<Schemas["MergeSet"]>) =>
    onChange({ ...value, sets: value.sets.map((s, k) => (k === i ? { ...s, ...change } : s)) });
  return (
    <div>
      <Chosen
        label={fieldAt(schema, start, value.of)?.label ?? value.of}
        onAgain={() => onChange({ of: "", sets: [] })}
      />
      {value.sets.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sets have no other identity than their place
        <details key={i} className="mt-2 rounded-md border border-line p-2" open={s.values.length === 0}>
          <summary className="cursor-pointer">
            {s.label || "A label"} <span className="text-ink2 text-[13px]">for {s.values.join(", ") || "…"}</span>
          </summary>
          <input
            className="input my-2"
            aria-label="Label"
            placeholder="Label"
            value={s.label}
            onChange={(e) => put(i, { label: e.target.value })}
          />
          <ValuePicker start={start} path={value.of} values={s.values} onChange={(values) => put(i, { values })} />
        </details>
      ))}
      <button
        type="button"
        className="link mt-2 text-[13px]"
        onClick={() => onChange({ ...value, sets: [...value.sets, { label: "", values: [] }] })}
      >
        Another label…
      </button>
      <label className="mt-2 block" htmlFor="merge-rest">
        The rest as
        <input
          id="merge-rest"
          className="input mt-1"
          placeholder="they are"
          value={value.rest ?? ""}
          onChange={(e) => {
            const { rest: _, ...without } = value;
            onChange(e.target.value ? { ...without, rest: e.target.value } : without);
          }}
        />
      </label>
    </div>
  );
}
