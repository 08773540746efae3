import { useState } from "react";
import type { SchemaInfo, Tree } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { fieldAt, manyFrom } from "../fields/fields";
import { shortcuts } from "../fields/shortcuts";
import { Seg } from "../ui/Seg";
import { ConditionEditor } from "./ConditionEditor";
import { ManyList } from "./ManyList";
import { blank, whole } from "./trees";

type Props = {
  schema: SchemaInfo;
  start: string;
  value?: Tree;
  onChange: (t: Tree) => void;
  onDrop?: () => void;
  /** What stands before the shortcuts, where a condition begins. */
  first?: React.ReactNode;
  /** How many groups of conditions this one stands in. */
  depth?: number;
};

/** Edits a condition of any kind: on a field, on linked records, or a group of others. */
export function TreeEditor({ schema, start, value, onChange, onDrop, first, depth = 0 }: Props) {
  const [draft, setDraft] = useState<Tree | undefined>(value);
  const t = draft ?? value;
  const set = (next: Tree) => {
    setDraft(next);
    if (whole(next)) onChange(next);
  };
  if (!t) return <Begin schema={schema} start={start} first={first} onPick={set} depth={depth} />;
  if (t.not)
    return (
      <div>
        <div className="mb-2 flex items-center gap-2">
          <strong>not</strong>
          <button type="button" className="btn btn-quiet !px-2" onClick={() => t.not && set(t.not)}>
            Take the “not” away
          </button>
          {onDrop && <Drop onDrop={onDrop} />}
        </div>
        <div className="border-line border-l-2 pl-3">
          <TreeEditor schema={schema} start={start} value={t.not} onChange={(k) => set({ not: k })} depth={depth + 1} />
        </div>
      </div>
    );
  if (t.all || t.any)
    return <GroupEditor schema={schema} start={start} value={t} onChange={set} onDrop={onDrop} depth={depth} />;
  return (
    <div>
      {t.link ? (
        <LinkEditor schema={schema} start={start} value={t} onChange={set} onDrop={onDrop} depth={depth} />
      ) : (
        <ConditionEditor schema={schema} start={start} value={t} onChange={set} onDrop={onDrop} />
      )}
      <div className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px]">
        {!t.link && (
          <>
            <Tick on={!!t.ask} onChange={(ask) => set(flag(t, "ask", ask))}>
              ask the reader
            </Tick>
            <Tick on={!!t.fixed} onChange={(fixed) => set(flag(t, "fixed", fixed))}>
              fixed, not shown
            </Tick>
          </>
        )}
        {depth < 4 && whole(t) && (
          <>
            <button type="button" className="link" onClick={() => set({ not: t })}>
              Turn to not
            </button>
            <button type="button" className="link" onClick={() => set({ any: [t] })}>
              Any of several
            </button>
          </>
        )}
      </div>
    </div>
  );
}

const flag = (t: Tree, key: "ask" | "fixed", on: boolean): Tree => {
  const { [key]: _, ...rest } = t;
  return on ? { ...rest, [key]: true } : rest;
};

function Tick({ on, onChange, children }: { on: boolean; onChange: (on: boolean) => void; children: React.ReactNode }) {
  return (
    <label className="flex items-center gap-1.5">
      <input type="checkbox" checked={on} onChange={(e) => onChange(e.target.checked)} />
      {children}
    </label>
  );
}

function Drop({ onDrop }: { onDrop: () => void }) {
  return (
    <button type="button" className="btn btn-quiet ml-auto !px-2" onClick={onDrop}>
      Remove
    </button>
  );
}

/** A condition that is often asked for. */
export function Shortcut({ label, onPick }: { label: string; onPick: () => void }) {
  return (
    <button type="button" className="btn !h-7 !px-2.5 text-[13px]" onClick={onPick}>
      {label}
    </button>
  );
}

/** Begins a condition: a shortcut, a field, linked records, or a group. */
function Begin({
  schema,
  start,
  first,
  onPick,
  depth,
}: Pick<Props, "schema" | "start" | "first"> & { onPick: (t: Tree) => void; depth: number }) {
  const [way, setWay] = useState<"field" | "link">("field");
  const many = manyFrom(schema, start);
  const quick = shortcuts(schema, start);
  return (
    <div>
      {(first || quick.length > 0) && depth === 0 && (
        <div className="mb-2 flex flex-wrap gap-1.5">
          {first}
          {quick.map((q) => (
            <Shortcut key={q.label} label={q.label} onPick={() => onPick(q.tree)} />
          ))}
        </div>
      )}
      <Seg
        label="What the condition is on"
        value={way}
        onChange={setWay}
        options={[
          ["field", "A field"],
          ["link", "Linked records"],
        ]}
      />
      {depth < 4 && (
        <button type="button" className="link ml-3 text-[13px]" onClick={() => onPick({ any: [] })}>
          A group of conditions
        </button>
      )}
      <div className="mt-2">
        {way === "field" ? (
          <FieldFinder
            schema={schema}
            start={start}
            label="Find a field to narrow by"
            onPick={(f) => onPick(blank(f))}
          />
        ) : (
          <ManyList many={many} onPick={(path) => onPick({ link: path, is: "none" })} />
        )}
      </div>
    </div>
  );
}

function LinkEditor({ schema, start, value, onChange, onDrop, depth }: Props & { value: Tree; depth: number }) {
  const link = manyFrom(schema, start).find((m) => m.path === value.link);
  const how = value.is === "none" ? "none" : (value.at_least ?? 1) > 1 ? "many" : "some";
  const put = (is: string, n?: number) => {
    const { at_least: _, ...rest } = value;
    onChange({ ...rest, is, ...(n && n > 1 ? { at_least: n } : {}) });
  };
  const where = value.where ?? { all: [] };
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <select
          className="input !w-auto"
          aria-label="How many of the linked records"
          value={how}
          onChange={(e) => put(e.target.value === "none" ? "none" : "some", e.target.value === "many" ? 3 : undefined)}
        >
          <option value="none">has no</option>
          <option value="some">has some</option>
          <option value="many">has at least</option>
        </select>
        {how === "many" && (
          <input
            className="input !w-16"
            type="number"
            min={2}
            aria-label="At least how many"
            value={value.at_least}
            onChange={(e) => Number(e.target.value) > 1 && put("some", Number(e.target.value))}
          />
        )}
        <strong>{link?.label ?? value.link}</strong>
        {onDrop && <Drop onDrop={onDrop} />}
      </div>
      {link && (
        <div className="border-line border-l-2 pl-3">
          <p className="mb-1 text-[13px] text-ink2">that meet these conditions</p>
          <GroupEditor
            schema={schema}
            start={link.type}
            value={where.all || where.any ? where : { all: [where] }}
            onChange={(w) => onChange({ ...value, where: w })}
            depth={depth}
          />
        </div>
      )}
    </div>
  );
}

/** A group of conditions: all of them, or any. One of them is open at a time. */
export function GroupEditor({ schema, start, value, onChange, onDrop, depth = 0 }: Props & { value: Tree }) {
  const [open, setOpen] = useState<number>(-1);
  const word = value.any ? "any" : "all";
  const kids = value.any ?? value.all ?? [];
  const put = (list: Tree[], as: string = word) => onChange(as === "any" ? { any: list } : { all: list });
  return (
    <div>
      <div className="mb-2 flex items-center gap-2">
        <Seg
          label="Which of these conditions must hold"
          value={word}
          onChange={(w) => put(kids, w)}
          options={[
            ["all", "all of these"],
            ["any", "any of these"],
          ]}
        />
        {onDrop && <Drop onDrop={onDrop} />}
      </div>
      <ul className="space-y-1">
        {kids.map((k, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no other identity than their place
          <li key={i} className="rounded-md border border-line">
            <div className="flex items-center gap-1">
              <button
                type="button"
                className="pick"
                aria-expanded={open === i}
                onClick={() => setOpen(open === i ? -1 : i)}
              >
                {describe(schema, start, k)}
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label="Earlier"
                disabled={i === 0}
                onClick={() => put(swap(kids, i, i - 1))}
              >
                ↑
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`Remove ${describe(schema, start, k)}`}
                onClick={() => put(kids.filter((_, n) => n !== i))}
              >
                ×
              </button>
            </div>
            {open === i && (
              <div className="border-line border-t p-2">
                <TreeEditor
                  schema={schema}
                  start={start}
                  value={k}
                  onChange={(t) => put(kids.map((x, n) => (n === i ? t : x)))}
                  depth={depth + 1}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
      {open === kids.length ? (
        <div className="mt-2 rounded-md border border-line p-2">
          <TreeEditor
            schema={schema}
            start={start}
            depth={depth + 1}
            onChange={(t) => {
              put([...kids, t]);
            }}
          />
        </div>
      ) : (
        <button type="button" className="link mt-2 text-[13px]" onClick={() => setOpen(kids.length)}>
          {kids.length ? "and another…" : "a first condition…"}
        </button>
      )}
    </div>
  );
}

function swap<T>(list: T[], a: number, b: number): T[] {
  const next = [...list];
  [next[a], next[b]] = [next[b], next[a]];
  return next;
}

/** A condition in a few words, for lists of them; the sentence says it in full. */
function describe(schema: SchemaInfo, start: string, t: Tree): string {
  if (t.not) return `not (${describe(schema, start, t.not)})`;
  const kids = t.all ?? t.any;
  if (kids)
    return kids.length ? kids.map((k) => describe(schema, start, k)).join(t.any ? " or " : " and ") : "anything";
  if (t.link)
    return `${t.is === "none" ? "no" : (t.at_least ?? 1) > 1 ? `at least ${t.at_least}` : "some"} ${manyFrom(schema, start).find((m) => m.path === t.link)?.label ?? t.link}`;
  const label = fieldAt(schema, start, t.field ?? "")?.label ?? t.field;
  const words = (t.is ?? "").replaceAll("_", " ");
  const values = t.period
    ? typeof t.period === "string"
      ? t.period.replaceAll("_", " ")
      : "a period"
    : t.other
      ? fieldAt(schema, start, t.other)?.label
      : t.values?.join(", ");
  return [label, words, values].filter(Boolean).join(" ");
}
