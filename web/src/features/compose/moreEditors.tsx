import { useState } from "react";
import type { Brief, SchemaInfo, Schemas, Tree } from "../../api/client";
import { useMeasures } from "../../api/hooks";
import { Seg } from "../../ui/Seg";
import { tidy, withoutPaths } from "./edits";
import { typeOf } from "./fields";
import { GroupEditor as Conditions } from "./TreeEditor";
import { plainNumber } from "./trees";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };
type Bring = Schemas["Bring"];

/** Brings linked records: a row for each, once more from there. */
export function BringEditor({ schema, brief, onChange, onDone }: Props) {
  const start = typeOf(schema, brief.start);
  if (!start) return null;
  const set = (bring: Bring | undefined, gone?: string) => {
    const next = tidy({ ...brief, bring });
    onChange(gone ? withoutPaths(next, (p) => p === gone || p.startsWith(`${gone}.`)) : next);
  };
  if (!brief.bring) return <Links schema={schema} type={start.key} onPick={(link) => set({ link })} />;
  return (
    <div>
      <One schema={schema} type={start.key} value={brief.bring} onChange={set} />
      <p className="mt-3 text-[13px] text-ink2">Each {start.one} still counts once, whatever rows there are.</p>
      <div className="mt-3 flex justify-end">
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => {
            set(undefined, brief.bring?.link);
            onDone();
          }}
        >
          Remove
        </button>
      </div>
    </div>
  );
}

function Links({ schema, type, onPick }: { schema: SchemaInfo; type: string; onPick: (link: string) => void }) {
  const t = typeOf(schema, type);
  return (
    <div role="listbox" aria-label="Linked records to bring">
      {t?.backs.map((b) => (
        <button key={b.key} type="button" role="option" aria-selected={false} className="pick" onClick={() => onPick(b.key)}>
          {b.label}
        </button>
      ))}
      {t?.backs.length === 0 && <p className="px-2 text-ink2">Nothing is linked to these records.</p>}
    </div>
  );
}

function One({ schema, type, value, onChange }: { schema: SchemaInfo; type: string; value: Bring; onChange: (b: Bring) => void }) {
  const back = typeOf(schema, type)?.backs.find((b) => b.key === value.link);
  const [more, setMore] = useState(false);
  if (!back) return null;
  const where: Tree = value.where ?? { all: [] };
  const set = (change: Partial<Bring>) => {
    const next = { ...value, ...change } as Record<string, unknown>;
    for (const [k, v] of Object.entries(next)) if (v === undefined) delete next[k];
    onChange(next as Bring);
  };
  return (
    <div>
      <p className="font-semibold">each with its {back.label.toLowerCase()}</p>
      <label className="mt-2 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={value.keepEmpty !== false}
          onChange={(e) => set({ keepEmpty: e.target.checked ? undefined : false })}
        />
        keep those without any
      </label>
      <details className="mt-2" open={!!value.where}>
        <summary className="cursor-pointer text-ink2">only {back.label.toLowerCase()} where…</summary>
        <div className="mt-1">
          <Conditions
            schema={schema}
            start={back.type}
            value={where.all || where.any ? where : { all: [where] }}
            onChange={(w) => set({ where: w.all?.length === 0 ? undefined : w })}
          />
        </div>
      </details>
      {value.bring ? (
        <div className="mt-3 border-line border-l-2 pl-3">
          <One schema={schema} type={back.type} value={value.bring} onChange={(bring) => set({ bring })} />
          <button type="button" className="link mt-2 text-[13px]" onClick={() => set({ bring: undefined })}>
            Without these
          </button>
        </div>
      ) : more ? (
        <Links schema={schema} type={back.type} onPick={(link) => set({ bring: { link } })} />
      ) : (
        (typeOf(schema, back.type)?.backs.length ?? 0) > 0 && (
          <button type="button" className="link mt-2 text-[13px]" onClick={() => setMore(true)}>
            and their linked records…
          </button>
        )
      )}
    </div>
  );
}

/** Compares with an earlier period, and sets what is to be reached. */
export function CompareEditor({ brief, onChange }: Props) {
  const p = brief.period?.within;
  const closed =
    p !== undefined && p !== "past" && p !== "future" && !(typeof p === "object" && (!p.from || !p.to) && (!!p.from || !!p.to));
  return (
    <div>
      <Seg
        label="Compared with"
        value={brief.compare ?? ""}
        onChange={(v) => onChange(tidy({ ...brief, compare: v || undefined }))}
        options={[
          ["", "Nothing"],
          ["previous_period", "The period before"],
          ["year_before", "The year before"],
        ]}
      />
      {!closed && <p className="mt-2 text-[13px] text-ink2">To compare, the report needs a period with a first and a last day.</p>}
    </div>
  );
}

/** A total alone that gets a target is drawn towards it, where it is not drawn otherwise. */
const aimed = (b: Brief): Brief => (b.chart || b.groups?.length || b.across?.length ? b : { ...b, chart: { kind: "progress" } });

export function TargetEditor({ schema, brief, onChange }: Props) {
  const [text, setText] = useState(brief.target ?? "");
  const measures = useMeasures().data?.filter((m) => m.start === brief.start) ?? [];
  // An amount, "" for none; nothing where it reads as neither, or is below zero.
  const read = (typed: string) => {
    const amount = typed.trim() === "" ? "" : plainNumber(typed, "money");
    return amount?.startsWith("-") ? undefined : amount;
  };
  const bad = read(text) === undefined;
  return (
    <div>
      {!brief.parts && (
        <fieldset className="mb-3">
          <legend className="mb-1">The target that is set for</legend>
          {measures.map((m) => (
            <button
              key={m.key}
              type="button"
              className="pick !block"
              aria-pressed={brief.targetOf === m.key}
              onClick={() => {
                setText("");
                const targetOf = brief.targetOf === m.key ? undefined : m.key;
                onChange(tidy({ ...aimed(brief), target: undefined, targetOf }));
              }}
            >
              {m.name}
              <span className="block text-ink2 text-xs">{m.text}</span>
            </button>
          ))}
          <p className="mt-1 text-[13px] text-ink2">
            {measures.length
              ? "It goes by the period and by whose records: what is set for those months and people."
              : `No targets are set for ${typeOf(schema, brief.start)?.label.toLowerCase() ?? "these records"} yet. Administrators set them under Targets.`}
          </p>
        </fieldset>
      )}
      <label className="block" htmlFor="target">
        {brief.parts ? "What" : "Or an amount of its own that"} the first summary’s total is to reach
        <input
          id="target"
          className="input mt-1"
          inputMode="decimal"
          placeholder="250000"
          aria-invalid={bad}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            const v = read(e.target.value);
            if (v !== undefined) onChange(tidy({ ...aimed(brief), target: v || undefined, targetOf: v ? undefined : brief.targetOf }));
          }}
        />
      </label>
      {bad && <p className="mt-1 text-rust text-xs">An amount like 250000</p>}
    </div>
  );
}

/** How many lines the list has at most. */
export function LimitEditor({ brief, onChange }: Props) {
  return (
    <label className="flex items-center gap-2" htmlFor="limit">
      the first
      <input
        id="limit"
        className="input !w-24"
        type="number"
        min={1}
        value={brief.limit ?? ""}
        onChange={(e) => onChange(tidy({ ...brief, limit: Number(e.target.value) > 0 ? Number(e.target.value) : undefined }))}
      />
      records
    </label>
  );
}

/** The brief as text, for what no editor offers and for those who would rather write. */
export function TextEditor({ brief, onChange }: Pick<Props, "brief" | "onChange">) {
  const [text, setText] = useState(() => JSON.stringify(brief, null, 1));
  const [trouble, setTrouble] = useState("");
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        try {
          onChange(JSON.parse(text));
          setTrouble("");
        } catch (err) {
          setTrouble(err instanceof Error ? err.message : "This is not JSON.");
        }
      }}
    >
      <label className="block" htmlFor="brief-text">
        The report as it is kept (docs: the brief)
        <textarea
          id="brief-text"
          className="input mt-1 font-mono text-[12px]"
          rows={16}
          spellCheck={false}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      {trouble && <p className="mt-1 text-rust text-xs">{trouble}</p>}
      <div className="mt-2 flex justify-end">
        <button type="submit" className="btn btn-main">
          Use it
        </button>
      </div>
    </form>
  );
}
