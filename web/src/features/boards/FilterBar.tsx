import { Popover } from "radix-ui";
import { useState } from "react";
import type { Brief, SchemaInfo } from "../../api/client";
import { ValuePicker } from "../compose/ConditionEditor";
import { WhoseEditor } from "../compose/editors";
import { FieldFinder } from "../compose/FieldFinder";
import { fieldAt, typeOf } from "../compose/fields";
import { PeriodPicker } from "../compose/PeriodEditor";
import { endOf, type FieldFilter, type Filters, isEmpty } from "./filters";

const plain = ["choice", "link", "text", "yesno"];

/** The sentence that a board is read by: whose, which period, what else it is narrowed to. */
export function FilterBar({
  schema,
  starts,
  value,
  kept,
  mayKeep,
  onChange,
  onKeep,
}: {
  schema: SchemaInfo;
  /** The record types of its panels. */
  starts: string[];
  value: Filters;
  kept: Filters;
  mayKeep: boolean;
  onChange: (f: Filters) => void;
  onKeep: () => void;
}) {
  const owned = starts.find((s) => typeOf(schema, s)?.owner) ?? "deals";
  const changed = JSON.stringify(value) !== JSON.stringify(kept);
  const clean = (f: Filters): Filters =>
    Object.fromEntries(Object.entries(f).filter(([, v]) => v !== undefined && !(Array.isArray(v) && v.length === 0)));
  const set = (change: Partial<Filters>) => onChange(clean({ ...value, ...change }));
  const fields = value.fields ?? [];
  return (
    <div role="group" aria-label="What this dashboard is read by" className="sentence mb-2 !text-[17px] !leading-[30px]">
      Everything of{" "}
      <Clause label="whose" text={whoseWords(value.whose)} quiet={value.whose === undefined}>
        <WhoseEditor
          schema={schema}
          brief={{ version: 1, start: owned, whose: value.whose } as Brief}
          onChange={(b) => set({ whose: b.whose === "everyone" ? undefined : b.whose })}
        />
      </Clause>
      , in{" "}
      <Clause label="period" text={periodWords(schema, value.period)} quiet={value.period === undefined}>
        {value.period !== undefined && (
          <button type="button" className="btn mb-2" onClick={() => set({ period: undefined })}>
            Each in its own period
          </button>
        )}
        <PeriodPicker schema={schema} value={value.period} onChange={(period) => set({ period })} />
      </Clause>
      {fields.map((f, i) => (
        <span key={`${f.type} ${f.field}`}>
          {i === 0 ? ", where " : " and "}
          <Clause
            label={f.field}
            text={`${fieldAt(schema, f.type, f.field)?.label.toLowerCase() ?? f.field} of ${typeOf(schema, f.type)?.label.toLowerCase()} is ${shown(f)}`}
          >
            {/* Above the values, so that it stays where it is when they arrive. */}
            <button type="button" className="btn mb-2" onClick={() => set({ fields: fields.filter((_, k) => k !== i) })}>
              Take out
            </button>
            <ValuePicker
              start={f.type}
              path={f.field}
              values={f.values ?? []}
              onChange={(values) =>
                set({ fields: values.length ? fields.map((x, k) => (k === i ? { ...f, values } : x)) : fields.filter((_, k) => k !== i) })
              }
            />
          </Clause>
        </span>
      ))}{" "}
      <Clause label="narrow by" text={fields.length ? "and…" : "where…"} quiet>
        <Narrow
          schema={schema}
          starts={starts}
          onPick={(f) => set({ fields: [...fields.filter((x) => x.type !== f.type || x.field !== f.field), f] })}
        />
      </Clause>
      {isEmpty(value) ? "" : "."}
      {changed && (
        <span className="ml-3 font-[family-name:var(--font-text)] text-[13px]">
          <button type="button" className="link" onClick={() => onChange(kept)}>
            back to as saved
          </button>
          {mayKeep && (
            <>
              {" · "}
              <button type="button" className="link" onClick={onKeep}>
                open like this from now on
              </button>
            </>
          )}
        </span>
      )}
    </div>
  );
}

const shown = (f: FieldFilter) => (f.values ?? []).join(" or ");

function whoseWords(w: Filters["whose"]): string {
  if (w === undefined || w === "everyone") return "everyone";
  if (w === "mine") return "mine";
  if (w === "team") return "my team";
  const n = typeof w === "object" ? (w.people?.length ?? 0) + (w.teams?.length ?? 0) : 0;
  return n === 1 ? "one chosen" : `${n} chosen`;
}

function periodWords(schema: SchemaInfo, p: Filters["period"]): string {
  if (p === undefined) return "their own periods";
  if (typeof p === "string") return schema.periods.find((x) => x.word === p)?.label ?? p;
  if (p.last) return `the last ${p.last} ${p.unit}s`;
  if (p.next) return `the next ${p.next} ${p.unit}s`;
  return [p.from && `from ${p.from}`, p.to && `to ${p.to}`].filter(Boolean).join(" ");
}

function Clause({ label, text, quiet, children }: { label: string; text: string; quiet?: boolean; children: React.ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger className={quiet ? "invite" : "clause"} aria-label={`${label}: ${text}`}>
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="pop max-h-[76vh] w-[380px] overflow-auto p-3 font-[family-name:var(--font-text)]"
          align="start"
          sideOffset={6}
          collisionPadding={12}
          aria-label={label}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Narrow({ schema, starts, onPick }: { schema: SchemaInfo; starts: string[]; onPick: (f: FieldFilter) => void }) {
  const [chosen, setChosen] = useState<{ type: string; field: string }>();
  if (!chosen)
    return (
      <FieldFinder
        schema={schema}
        start={starts[0] ?? "deals"}
        label="Find a field to narrow the panels by"
        fits={(f) => plain.includes(f.field.kind)}
        onPick={(f) => setChosen(endOf(schema, starts[0] ?? "deals", f.path))}
      />
    );
  return <ValuePicker start={chosen.type} path={chosen.field} values={[]} onChange={(values) => onPick({ ...chosen, values })} />;
}
