import { useState } from "react";
import { useValues } from "../api/hooks";
import { count } from "../ui/figures";
import { isHeard, useOnceKnown } from "../ui/useOnceKnown";

/** A list that was typed or pasted: a value a line, or with commas. */
export const split = (text: string) =>
  text
    .split(/[\n,;]/)
    .map((v) => v.trim())
    .filter(Boolean);

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
  const enter = useOnceKnown(isHeard(list), () => {
    const first = list.data?.[0];
    if (first) toggle(first.value);
  });
  return (
    <div>
      <input
        className="input"
        aria-label="Find a value"
        placeholder="Find a value …"
        value={search}
        onChange={(e) => {
          setSearch(e.target.value);
          enter.drop();
        }}
        onPaste={(e) => {
          // A pasted list picks what it names.
          const named = split(e.clipboardData.getData("text"));
          if (named.length < 2) return;
          e.preventDefault();
          onChange([
            ...new Set([
              ...values,
              ...named.map((n) => list.data?.find((v) => v.label.toLowerCase() === n.toLowerCase())?.value ?? n),
            ]),
          ]);
        }}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          enter.ask();
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
            <span className="text-ink3 text-xs">{count(v.count)}</span>
          </button>
        ))}
        {list.data?.length === 0 && <p className="px-2 py-2 text-ink2">No record has such a value.</p>}
      </div>
    </div>
  );
}
