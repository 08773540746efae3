import { useState } from "react";
import type { Brief } from "../../api/client";
import { useAnswer } from "../../api/hooks";
import { Seg } from "../../ui/Seg";
import { kindName } from "../chart/kinds";

type Chart = NonNullable<Brief["chart"]>;

const looks = [
  "legend",
  "guides",
  "labels",
  "on",
  "from",
  "to",
  "height",
  "valueTitle",
  "groupTitle",
  "heading",
  "below",
  "source",
] as const;
const stackable = ["column", "bar", "area"];
const measured: Record<string, string[]> = {
  column_line: ["columns of", "line of"],
  scatter: ["along", "upwards"],
  bubble: ["along", "upwards", "size"],
};

/** How the result is drawn: the kinds that suit it first, the others with what they lack; then its looks. */
export function ChartEditor({ brief, onChange }: { brief: Brief; onChange: (b: Brief) => void }) {
  const answer = useAnswer(brief).data;
  const c: Chart = brief.chart ?? { kind: "column" };
  const sums = answer?.summaries ?? [];
  const put = (change: Partial<Chart>) => {
    const next = Object.fromEntries(Object.entries({ ...c, ...change }).filter(([, v]) => v !== undefined && v !== "" && v !== false));
    onChange({ ...brief, chart: next as Chart });
  };
  const kinds = answer?.kinds ?? [];
  const parts = measured[c.kind];
  return (
    <div>
      <div role="listbox" aria-label="Kind of chart" className="grid grid-cols-2">
        {kinds.map((k) => (
          <button
            key={k.kind}
            type="button"
            role="option"
            aria-selected={c.kind === k.kind}
            aria-disabled={!!k.lacks}
            className="pick"
            title={k.lacks ? `It lacks ${k.lacks}` : undefined}
            onClick={() => !k.lacks && put({ kind: k.kind })}
          >
            <span className={k.lacks ? "text-ink3" : ""}>
              {kindName(k.name)}
              {k.lacks && <span className="block text-xs">lacks {k.lacks}</span>}
            </span>
          </button>
        ))}
      </div>
      {sums.length > 1 &&
        (parts ?? ["draws"]).map((word, i) => (
          <label key={word} className="mt-2 flex items-center gap-2">
            <span className="w-24 text-ink2">{word}</span>
            <select
              className="input"
              aria-label={word}
              value={c.values?.[i] ?? ""}
              onChange={(e) => {
                const values = parts ? parts.map((_, k) => c.values?.[k] ?? sums[k]?.key ?? sums[0].key) : [];
                if (e.target.value) values[i] = e.target.value;
                put({ values: e.target.value ? values : undefined });
              }}
            >
              <option value="">what says most</option>
              {sums.map((s) => (
                <option key={s.key} value={s.key}>
                  {s.label}
                </option>
              ))}
            </select>
          </label>
        ))}
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Seg
          label="Amounts or shares"
          value={c.measure === "share" ? "share" : "value"}
          onChange={(m) => put({ measure: m === "share" ? "share" : undefined })}
          options={[
            ["value", "Amounts"],
            ["share", "Shares"],
          ]}
        />
        {stackable.includes(c.kind) && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={!!c.stacked} onChange={(e) => put({ stacked: e.target.checked })} />
            {c.measure === "share" ? "stacked to 100 %" : "stacked"}
          </label>
        )}
      </div>
      <details className="mt-3" open={looks.some((k) => c[k])}>
        <summary className="cursor-pointer text-ink2">Looks</summary>
        <div className="mt-2 grid grid-cols-3 gap-2 text-[13px]">
          <Choice
            label="Labels"
            value={c.labels}
            onChange={(v) => put({ labels: v })}
            options={[
              ["", "as they fit"],
              ["values", "values"],
              ["shares", "shares"],
              ["both", "both"],
              ["none", "none"],
            ]}
          />
          <Choice
            label="Legend"
            value={c.legend}
            onChange={(v) => put({ legend: v })}
            options={[
              ["", "top"],
              ["right", "right"],
              ["below", "below"],
              ["left", "left"],
              ["none", "none"],
            ]}
          />
          <Choice
            label="Guides"
            value={c.guides}
            onChange={(v) => put({ guides: v })}
            options={[
              ["", "along values"],
              ["both", "along both"],
              ["stripes", "stripes"],
              ["none", "none"],
            ]}
          />
          <Choice
            label="On"
            value={c.on}
            onChange={(v) => put({ on: v })}
            options={[
              ["", "as the reader has it"],
              ["paper", "paper"],
              ["ink", "ink"],
            ]}
          />
          <Amount label="Values from" value={c.from} onChange={(from) => put({ from })} />
          <Amount label="to" value={c.to} onChange={(to) => put({ to })} />
          <label>
            Height
            <input
              className="input"
              type="number"
              min={120}
              max={1200}
              step={20}
              placeholder="400"
              value={c.height ?? ""}
              onChange={(e) => {
                const n = Number(e.target.value);
                if (!n || (n >= 120 && n <= 1200)) put({ height: n || undefined });
              }}
            />
          </label>
          {(["valueTitle", "groupTitle"] as const).map((k) => (
            <label key={k}>
              {{ valueTitle: "Name of the values", groupTitle: "Name of the groups" }[k]}
              <input className="input" value={c[k] ?? ""} maxLength={200} onChange={(e) => put({ [k]: e.target.value })} />
            </label>
          ))}
          {(["heading", "below", "source"] as const).map((k) => (
            <label key={k} className="col-span-3">
              {{ heading: "Heading", below: "A line below it", source: "A note on the source" }[k]}
              <input className="input" value={c[k] ?? ""} maxLength={200} onChange={(e) => put({ [k]: e.target.value })} />
            </label>
          ))}
        </div>
      </details>
    </div>
  );
}

/** An end of the axis; what is no number yet is not asked for. */
function Amount({ label, value, onChange }: { label: string; value?: string; onChange: (v: string | undefined) => void }) {
  const [text, setText] = useState(value ?? "");
  const bad = text !== "" && !/^-?\d+(\.\d+)?$/.test(text);
  return (
    <label>
      {label}
      <input
        className="input"
        inputMode="decimal"
        placeholder="as it comes"
        aria-invalid={bad}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          if (/^(-?\d+(\.\d+)?)?$/.test(e.target.value)) onChange(e.target.value || undefined);
        }}
      />
    </label>
  );
}

function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value?: string;
  options: [string, string][];
  onChange: (v: string) => void;
}) {
  return (
    <label>
      {label}
      <select className="input" value={value ?? ""} onChange={(e) => onChange(e.target.value)}>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
