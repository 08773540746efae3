import { useState } from "react";
import type { Brief, SchemaInfo } from "../api/client";
import { useMeasures } from "../api/hooks";
import { plainNumber } from "../fields/amounts";
import { typeOf } from "../fields/fields";
import { tidy } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };

/** A total alone that gets a target is drawn towards it, where it is not drawn otherwise. */
const aimed = (b: Brief): Brief =>
  b.chart || b.groups?.length || b.across?.length ? b : { ...b, chart: { kind: "progress" } };

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
            if (v !== undefined)
              onChange(tidy({ ...aimed(brief), target: v || undefined, targetOf: v ? undefined : brief.targetOf }));
          }}
        />
      </label>
      {bad && <p className="mt-1 text-rust text-xs">An amount like 250000</p>}
    </div>
  );
}
