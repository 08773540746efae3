import { useDraggable } from "@dnd-kit/core";
import { useEffect, useMemo, useRef, useState } from "react";
import type { SchemaInfo } from "../api/client";
import { useValues } from "../api/hooks";
import { type Found, isDated, isNumeric, reach, search } from "./fields";

const kindWords: Record<string, string> = {
  id: "number of record",
  text: "text",
  number: "number",
  money: "money",
  percent: "percent",
  date: "date",
  time: "date and time",
  yesno: "yes/no",
  choice: "choice",
  link: "link",
};

type Sort = "all" | "text" | "number" | "money" | "date" | "choice" | "link";

const sorts: [Sort, string, (kind: string) => boolean][] = [
  ["all", "all", () => true],
  ["text", "text", (k) => k === "text" || k === "id"],
  ["number", "number", isNumeric],
  ["money", "money", (k) => k === "money"],
  ["date", "date", isDated],
  ["choice", "choice", (k) => k === "choice" || k === "yesno"],
  ["link", "link", (k) => k === "link"],
];

/**
 * Finds a field by typing: arrow keys move, Enter takes, Escape empties. Fields stand under the record they belong to;
 * a heading leads on to the records behind it. The one in reach tells what it is and what values it has.
 */
export function FieldFinder({
  schema,
  start,
  label,
  fits = () => true,
  onPick,
  onPickAll,
}: {
  schema: SchemaInfo;
  start: string;
  label: string;
  fits?: (f: Found) => boolean;
  onPick: (f: Found) => void;
  /** Takes all that are found; where it is given, fields can be dragged, too. */
  onPickAll?: (list: Found[]) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const [sort, setSort] = useState<Sort>("all");
  const [deep, setDeep] = useState(false);
  const list = useRef<HTMLDivElement>(null);
  const found = useMemo(() => {
    const kind = sorts.find(([k]) => k === sort)?.[2] ?? (() => true);
    const all = reach(schema, start, text.trim() || deep ? 2 : 1).filter((f) => fits(f) && kind(f.field.kind));
    return (text.trim() ? search(all, text) : all).slice(0, 120);
  }, [schema, start, text, fits, sort, deep]);
  const go = (n: number) => {
    const next = Math.max(0, Math.min(found.length - 1, n));
    setAt(next);
    list.current?.querySelectorAll("[role=option]")[next]?.scrollIntoView({ block: "nearest" });
  };
  const here = found[at];
  return (
    <div>
      <input
        className="input"
        role="combobox"
        aria-expanded="true"
        aria-controls="found-fields"
        aria-activedescendant={here ? `f-${here.path}` : undefined}
        aria-label={label}
        placeholder="Find a field …"
        // biome-ignore lint/a11y/noAutofocus: the finder opens to be typed into
        autoFocus
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") go(at + 1);
          else if (e.key === "ArrowUp") go(at - 1);
          else if (e.key === "Enter" && here) onPick(here);
          else if (e.key === "Escape" && text) setText("");
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
      <div role="radiogroup" aria-label="Kind of field" className="mt-1.5 flex flex-wrap gap-x-2 text-[13px]">
        {sorts.map(([k, words]) => (
          <button
            key={k}
            type="button"
            role="radio"
            aria-checked={k === sort}
            className={`min-h-6 min-w-6 ${k === sort ? "font-bold underline decoration-2 decoration-[var(--amber)] underline-offset-4" : "text-ink2 hover:text-ink"}`}
            onClick={() => {
              setSort(k);
              setAt(0);
            }}
          >
            {words}
          </button>
        ))}
      </div>
      <div
        ref={list}
        id="found-fields"
        role="listbox"
        aria-label="Fields"
        className="mt-1.5 max-h-[250px] overflow-auto"
      >
        {found.map((f, i) => (
          <div key={f.path}>
            {found[i - 1]?.group !== f.group && <p className="px-2 pt-1.5 text-ink3 text-xs">{f.group}</p>}
            <Option found={f} at={i === at} drag={!!onPickAll} onAt={() => setAt(i)} onPick={() => onPick(f)} />
          </div>
        ))}
        {found.length === 0 && (
          <p className="px-2 py-3 text-ink2">
            No field has these words. Fields of linked records are found by “Customer segment”.
          </p>
        )}
      </div>
      <div className="mt-1.5 flex flex-wrap gap-3 border-line border-t pt-1.5 text-[13px]">
        {!deep && !text.trim() && (
          <button type="button" className="link" onClick={() => setDeep(true)}>
            Further linked records
          </button>
        )}
        {onPickAll && found.length > 1 && (text.trim() || sort !== "all") && (
          <button type="button" className="link" onClick={() => onPickAll(found)}>
            Add all {found.length}
          </button>
        )}
      </div>
      {here && <About start={start} found={here} />}
    </div>
  );
}

function Option({
  found: f,
  at,
  drag,
  onAt,
  onPick,
}: {
  found: Found;
  at: boolean;
  drag: boolean;
  onAt: () => void;
  onPick: () => void;
}) {
  const d = useDraggable({ id: `add ${f.path}`, disabled: !drag });
  return (
    <button
      ref={d.setNodeRef}
      {...(drag ? d.listeners : {})}
      style={
        d.transform
          ? { transform: `translate(${d.transform.x}px, ${d.transform.y}px)`, zIndex: 50, position: "relative" }
          : undefined
      }
      id={`f-${f.path}`}
      type="button"
      role="option"
      aria-selected={false}
      data-at={at}
      tabIndex={-1}
      className="pick"
      onMouseMove={onAt}
      // A double click takes one field, not the one as well that moves into its place.
      onClick={(e) => e.detail < 2 && onPick()}
    >
      <span>{f.label}</span>
      <span className="text-ink3 text-xs">{kindWords[f.field.kind]}</span>
    </button>
  );
}

/** What a field is, and some of the values it has; asked for once one rests on it. */
function About({ start, found }: { start: string; found: Found }) {
  const [rests, setRests] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => setRests(found.path), 250);
    return () => clearTimeout(timer);
  }, [found.path]);
  const plain =
    !found.path.startsWith("own.") &&
    !start.startsWith("~") &&
    ["text", "choice", "link", "yesno"].includes(found.field.kind);
  const values = useValues(start, found.path, "", plain && rests === found.path);
  const some = plain && rests === found.path && !values.isPlaceholderData ? values.data?.slice(0, 4) : undefined;
  return (
    <p className="mt-1 min-h-[36px] text-ink2 text-xs" aria-live="polite">
      {found.field.description || `${found.label}: ${kindWords[found.field.kind]}.`}
      {some && some.length > 0 && <> Has: {some.map((v) => v.label).join(", ")} …</>}
    </p>
  );
}
