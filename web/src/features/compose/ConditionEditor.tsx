import { useState } from "react";
import type { SchemaInfo, Tree } from "../../api/client";
import { useValues } from "../../api/hooks";
import { FieldFinder } from "./FieldFinder";
import { type Found, fieldAt, isDated, isOwn } from "./fields";
import { PeriodPicker } from "./PeriodEditor";
import { blank, plainNumber } from "./trees";

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

/** Edits a condition on a field. */
export function ConditionEditor({
  schema,
  start,
  value,
  asked,
  onChange,
  onDrop,
}: {
  schema: SchemaInfo;
  start: string;
  value: Tree;
  /** It is a question that is asked of its reader: about this field, and no other. */
  asked?: boolean;
  onChange: (t: Tree) => void;
  onDrop?: () => void;
}) {
  const found = fieldAt(schema, start, value.field ?? "");
  const [choosing, setChoosing] = useState(false);
  if (!found && asked) return null;
  if (!found || choosing) {
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find a field to narrow by"
        onPick={(f) => {
          onChange(blank(f));
          setChoosing(false);
        }}
      />
    );
  }
  const kind = found.field.kind;
  const words = (o: string) => (isDated(kind) ? dayWords[o] : undefined) ?? opWords[o];
  return (
    <div>
      <div className="mb-2 flex items-center gap-2">
        {!asked && (
          <button
            type="button"
            className="font-semibold underline decoration-dotted"
            title="Choose another field"
            onClick={() => setChoosing(true)}
          >
            {found.label}
          </button>
        )}
        <select
          className="input !w-auto"
          aria-label="How it compares"
          value={value.is}
          onChange={(e) => onChange(reshape(value, e.target.value))}
        >
          {found.field.operators.map((o) => (
            <option key={o} value={o}>
              {words(o)}
            </option>
          ))}
        </select>
        {onDrop && (
          <button type="button" className="btn btn-quiet ml-auto" onClick={onDrop}>
            Remove
          </button>
        )}
      </div>
      <Values schema={schema} start={start} found={found} value={value} onChange={onChange} />
    </div>
  );
}

/** A condition with another comparison keeps the values that still fit. */
function reshape(t: Tree, is: string): Tree {
  const { values, period: _, other: __, ...next } = { ...t, is };
  if (is === "empty" || is === "filled" || is === "within") return next;
  const many = !["under", "at_most", "over", "at_least", "between"].includes(is);
  if (!values?.length) return next;
  return { ...next, values: many ? values : values.slice(0, is === "between" ? 2 : 1) };
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
  if (value.other !== undefined || ["under", "at_most", "over", "at_least"].includes(is)) {
    return (
      <Or
        other={value.other}
        schema={schema}
        start={start}
        found={found}
        onChange={(other) => {
          const { other: _, values: __, ...rest } = value;
          onChange(other === undefined ? rest : { ...rest, other });
        }}
      >
        <Typed kind={kind} label="Value" value={value.values?.[0] ?? ""} onChange={(v) => onChange({ ...value, values: [v] })} />
      </Or>
    );
  }
  if (isOwn(found.path) && kind === "choice")
    return <TypedList values={value.values ?? []} onChange={(values) => onChange({ ...value, values })} />;
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

/** A value, or another field to compare with. */
function Or({
  other,
  schema,
  start,
  found,
  onChange,
  children,
}: {
  other?: string;
  schema: SchemaInfo;
  start: string;
  found: Found;
  onChange: (other: string | undefined) => void;
  children: React.ReactNode;
}) {
  const [finding, setFinding] = useState(false);
  const fits = (f: Found) => f.field.kind === found.field.kind || (isDated(f.field.kind) && isDated(found.field.kind));
  if (finding)
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find a field to compare with"
        fits={fits}
        onPick={(f) => {
          setFinding(false);
          onChange(f.path);
        }}
      />
    );
  return (
    <div>
      {other ? <p className="px-1">that of {fieldAt(schema, start, other)?.label ?? other}</p> : children}
      <button type="button" className="link mt-2 text-[13px]" onClick={() => (other ? onChange(undefined) : setFinding(true))}>
        {other ? "Compare with a value" : "Compare with another field…"}
      </button>
    </div>
  );
}

/** Values typed as a list, with commas or a line each. */
function TypedList({ values, onChange }: { values: string[]; onChange: (v: string[]) => void }) {
  const [text, setText] = useState(values.join("\n"));
  return (
    <textarea
      className="input"
      rows={4}
      aria-label="Values, one a line"
      placeholder="One value a line, or with commas"
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        onChange(split(e.target.value));
      }}
    />
  );
}

const split = (text: string) =>
  text
    .split(/[\n,;]/)
    .map((v) => v.trim())
    .filter(Boolean);

/** A typed value, handed on when it reads as one. */
function Typed({ kind, label, value, onChange }: { kind: string; label: string; value: string; onChange: (v: string) => void }) {
  const [text, setText] = useState(value);
  const numeric = kind === "number" || kind === "money" || kind === "percent";
  const bad = numeric && text.trim() !== "" && plainNumber(text, kind) === undefined;
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
          const v = numeric ? plainNumber(e.target.value, kind) : e.target.value;
          if (v) onChange(v);
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
        onPaste={(e) => {
          // A pasted list picks what it names.
          const named = split(e.clipboardData.getData("text"));
          if (named.length < 2) return;
          e.preventDefault();
          onChange([
            ...new Set([...values, ...named.map((n) => list.data?.find((v) => v.label.toLowerCase() === n.toLowerCase())?.value ?? n)]),
          ]);
        }}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          const first = list.data?.[0];
          if (first) toggle(first.value);
        }}
      />
      {values.length > 1 && (
        <p className="mt-1 px-1 text-[13px] text-ink2">
          {values.length} picked{" "}
          <button type="button" className="link" onClick={() => onChange([])}>
            none
          </button>
        </p>
      )}
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
