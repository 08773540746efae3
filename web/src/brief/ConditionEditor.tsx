import { useState } from "react";
import type { SchemaInfo, Tree } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { type Found, fieldAt, isDated, isOwn } from "../fields/fields";
import { PeriodPicker } from "../fields/PeriodPicker";
import { Typed } from "../fields/Typed";
import { split, ValuePicker } from "../fields/ValuePicker";
import { blank } from "./trees";

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
const dayWords: Record<string, string> = {
  under: "is before",
  at_most: "is up to",
  over: "is after",
  at_least: "is from",
};

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
  if (is === "within")
    return <PeriodPicker schema={schema} value={value.period} onChange={(p) => onChange({ ...value, period: p })} />;
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
        <Typed
          kind={kind}
          label="Value"
          value={value.values?.[0] ?? ""}
          onChange={(v) => onChange({ ...value, values: [v] })}
        />
      </Or>
    );
  }
  if (isOwn(found.path) && kind === "choice")
    return <TypedList values={value.values ?? []} onChange={(values) => onChange({ ...value, values })} />;
  const picked =
    ["choice", "link", "yesno", "id"].includes(kind) || (kind === "text" && (is === "any_of" || is === "none_of"));
  if (picked)
    return (
      <ValuePicker
        start={start}
        path={found.path}
        values={value.values ?? []}
        onChange={(values) => onChange({ ...value, values })}
      />
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
  return (
    <Typed
      kind={kind}
      label="Value"
      value={value.values?.[0] ?? ""}
      onChange={(v) => onChange({ ...value, values: [v] })}
    />
  );
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
      <button
        type="button"
        className="link mt-2 text-[13px]"
        onClick={() => (other ? onChange(undefined) : setFinding(true))}
      >
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
