import { useMemo, useRef, useState } from "react";
import type { SchemaInfo } from "../../api/client";
import { type Found, reach, search } from "./fields";

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

/** Finds a field by typing: arrow keys move, Enter takes, the first is taken by itself. */
export function FieldFinder({
  schema,
  start,
  label,
  fits = () => true,
  onPick,
}: {
  schema: SchemaInfo;
  start: string;
  label: string;
  fits?: (f: Found) => boolean;
  onPick: (f: Found) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const found = useMemo(() => {
    const all = reach(schema, start, text.trim() ? 2 : 1).filter(fits);
    return (text.trim() ? search(all, text) : all).slice(0, 80);
  }, [schema, start, text, fits]);
  const go = (n: number) => {
    const next = Math.max(0, Math.min(found.length - 1, n));
    setAt(next);
    list.current?.children[next]?.scrollIntoView({ block: "nearest" });
  };
  return (
    <div>
      <input
        className="input"
        role="combobox"
        aria-expanded="true"
        aria-controls="found-fields"
        aria-activedescendant={found[at] ? `f-${found[at].path}` : undefined}
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
          else if (e.key === "Enter" && found[at]) onPick(found[at]);
          else return;
          e.preventDefault();
        }}
      />
      <div ref={list} id="found-fields" role="listbox" aria-label="Fields" className="mt-2 max-h-[290px] overflow-auto">
        {found.map((f, i) => (
          <button
            key={f.path}
            id={`f-${f.path}`}
            type="button"
            role="option"
            aria-selected={false}
            data-at={i === at}
            tabIndex={-1}
            className="pick"
            title={f.field.description}
            onMouseMove={() => setAt(i)}
            onClick={() => onPick(f)}
          >
            <span>{f.label}</span>
            <span className="text-ink3 text-xs">{kindWords[f.field.kind]}</span>
          </button>
        ))}
        {found.length === 0 && (
          <p className="px-2 py-3 text-ink2">No field has these words. Fields of linked records are found by “Customer segment”.</p>
        )}
      </div>
    </div>
  );
}
