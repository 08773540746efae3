import { useState } from "react";
import type { SchemaInfo, Tree } from "../../api/client";
import { useValues } from "../../api/hooks";
import { FieldFinder } from "./FieldFinder";
import { type Found, fieldAt, isDated } from "./fields";
import { PeriodPicker } from "./PeriodEditor";

const opWords: Record<string, string> = {
  any_of: "is",
  none_of: "is not",
  contains: "contains",
  not_contains: "does not contain",
  starts_with: "starts with",
  under: "is under",
  at_most: "is at most",
  over: "is over",
  at_least: "is at least",
  between: "is from … to",
  within: "is within",
  empty: "is empty",
  filled: "is filled",
};
const dayWords: Record<string, string> = { under: "is before", at_most: "is up to", over: "is after", at_least: "is from" };

/** Edits one condition. Every change that makes a whole condition is handed on at once. */
export function ConditionEditor({
  schema,
  start,
  value,
  onChange,
  onDrop,
}: {
  schema: SchemaInfo;
  start: string;
  value?: Tree;
  onChange: (t: Tree) => void;
  onDrop?: () => void;
}) {
  const [draft, setDraft] = useState<Tree | undefined>(value);
  if (draft && !draft.field) {
    return (
      <div>
        <p className="px-1 pb-2 text-ink2">This condition is made of others and stays as it is here; it can be taken out.</p>
        {onDrop && (
          <button type="button" className="btn" onClick={onDrop}>
            Take out
          </button>
        )}
      </div>
    );
  }
  const found = draft?.field ? fieldAt(schema, start, draft.field) : undefined;
  if (!draft || !found)
    return <FieldFinder schema={schema} start={start} label="Find a field to narrow by" onPick={(f) => setDraft(blank(f))} />;
  const set = (t: Tree) => {
    setDraft(t);
    if (whole(t)) onChange(t);
  };
  const kind = found.field.kind;
  const words = (o: string) => (isDated(kind) ? dayWords[o] : undefined) ?? opWords[o];
  return (
    <div>
      <div className="mb-2 flex items-center gap-2">
        <span className="font-semibold">{found.label}</span>
        <select
          className="input !w-auto"
          aria-label="How it compares"
          value={draft.is}
          onChange={(e) => set(reshape(draft, e.target.value))}
        >
          {found.field.operators.map((o) => (
            <option key={o} value={o}>
              {words(o)}
            </option>
          ))}
        </select>
        {onDrop && (
          <button type="button" className="btn btn-quiet ml-auto" onClick={onDrop}>
            Take out
          </button>
        )}
      </div>
      <Values schema={schema} start={start} found={found} value={draft} onChange={set} />
    </div>
  );
}

function blank(f: Found): Tree {
  const listed = f.field.kind === "choice" || f.field.kind === "link" || f.field.kind === "yesno" || f.field.kind === "id";
  const is = listed ? "any_of" : f.field.kind === "text" ? "contains" : isDated(f.field.kind) ? "within" : "at_least";
  return { field: f.path, is };
}

function whole(t: Tree): boolean {
  if (t.is === "empty" || t.is === "filled") return true;
  if (t.is === "within") return t.period !== undefined;
  const vals = (t.values ?? []).filter((v) => v !== "");
  return t.is === "between" ? vals.length === 2 : vals.length > 0;
}

function reshape(t: Tree, is: string): Tree {
  const next: Tree = { field: t.field, is };
  if (is === "empty" || is === "filled" || is === "within") return next;
  const vals = t.values ?? [];
  const many = !["under", "at_most", "over", "at_least", "between"].includes(is);
  if (vals.length > 0) next.values = many ? vals : vals.slice(0, is === "between" ? 2 : 1);
  return next;
}

function Values({
  schema,
  start,
  found,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  found: Found;
  value: Tree;
  onChange: (t: Tree) => void;
}) {
  const is = value.is ?? "";
  if (is === "empty" || is === "filled") return null;
  if (is === "within") return <PeriodPicker schema={schema} value={value.period} onChange={(p) => onChange({ ...value, period: p })} />;
  const kind = found.field.kind;
  const picked = ["choice", "link", "yesno", "id"].includes(kind) || (kind === "text" && (is === "any_of" || is === "none_of"));
  if (picked)
    return (
      <ValuePicker start={start} path={found.path} values={value.values ?? []} onChange={(values) => onChange({ ...value, values })} />
    );
  if (is === "between") {
    const [a = "", b = ""] = value.values ?? [];
    return (
      <div className="flex items-center gap-2">
        <Typed kind={kind} label="From" value={a} onChange={(v) => onChange({ ...value, values: [v, b] })} />
        to
        <Typed kind={kind} label="To" value={b} onChange={(v) => onChange({ ...value, values: [a, v] })} />
      </div>
    );
  }
  return <Typed kind={kind} label="Value" value={value.values?.[0] ?? ""} onChange={(v) => onChange({ ...value, values: [v] })} />;
}

/** A typed value, handed on when it reads as one. */
function Typed({ kind, label, value, onChange }: { kind: string; label: string; value: string; onChange: (v: string) => void }) {
  const [text, setText] = useState(value);
  const numeric = kind === "number" || kind === "money" || kind === "percent";
  const clean = numeric ? text.replace(/[\s,€$£%]/g, "") : text;
  const bad = clean !== "" && numeric && !(kind === "money" ? /^-?\d+(\.\d{1,2})?$/ : /^-?\d+(\.\d+)?$/).test(clean);
  return (
    <div className="flex-1">
      <input
        className="input"
        aria-label={label}
        aria-invalid={bad}
        // biome-ignore lint/a11y/noAutofocus: the editor opens to be typed into
        autoFocus={label !== "To"}
        type={isDated(kind) ? "date" : "text"}
        inputMode={numeric ? "decimal" : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const v = numeric ? e.target.value.replace(/[\s,€$£%]/g, "") : e.target.value;
          if (v !== "" && (!numeric || /^-?\d+(\.\d+)?$/.test(v))) onChange(v);
        }}
      />
      {bad && <p className="mt-1 text-rust text-xs">{kind === "money" ? "An amount like 20000 or 1250.50" : "A number like 12.5"}</p>}
    </div>
  );
}

/** The values that there are, with how many records have each. */
export function ValuePicker({
  start,
  path,
  values,
  onChange,
}: {
  start: string;
  path: string;
  values: string[];
  onChange: (v: string[]) => void;
}) {
  const [search, setSearch] = useState("");
  const list = useValues(start, path, search);
  const toggle = (v: string) => onChange(values.includes(v) ? values.filter((x) => x !== v) : [...values, v]);
  return (
    <div>
      <input
        className="input"
        aria-label="Find a value"
        placeholder="Find a value …"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
      />
      <div role="group" aria-label="Values" className="mt-2 max-h-[240px] overflow-auto">
        {list.data?.map((v) => (
          <button
            key={v.value}
            type="button"
            role="checkbox"
            aria-checked={values.includes(v.value)}
            aria-label={v.label}
            className="pick"
            onClick={() => toggle(v.value)}
          >
            <span>{v.label}</span>
            <span className="text-ink3 text-xs">{v.count.toLocaleString("en")}</span>
          </button>
        ))}
        {list.data?.length === 0 && <p className="px-2 py-2 text-ink2">No record has such a value.</p>}
      </div>
    </div>
  );
}
