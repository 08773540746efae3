import { useState } from "react";
import type { Brief } from "../api/client";
import { useAnswer, useHouseStyle, useStyles } from "../api/hooks";
import { KindPicture } from "../chart/KindPicture";
import { kindName } from "../chart/kinds";
import { OwnColours, StyleDialog } from "../looks/KeptStyles";
import { LookChoices } from "../looks/LookChoices";
import { Seg } from "../ui/Seg";
import { walk } from "../ui/walk";

type Chart = NonNullable<Brief["chart"]>;

const ownLooks = [
  "style",
  "palette",
  "legend",
  "guides",
  "labels",
  "totals",
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
    const next = Object.fromEntries(
      Object.entries({ ...c, ...change }).filter(([, v]) => v !== undefined && v !== "" && v !== false),
    );
    onChange({ ...brief, chart: next as Chart });
  };
  const kinds = answer?.kinds ?? [];
  const styles = useStyles();
  const house = useHouseStyle()?.palette ?? [];
  const [keeping, setKeeping] = useState(false);
  const parts = measured[c.kind];
  return (
    <div>
      <div role="listbox" aria-label="Kind of chart" className="grid grid-cols-2 xl:grid-cols-3" onKeyDown={walk}>
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
            <KindPicture kind={k.kind} />
            <span className={`mr-auto ${k.lacks ? "text-ink3" : ""}`}>
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
        {c.kind === "funnel" && answer?.groups[0]?.field === "stage" && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={!!c.steps} onChange={(e) => put({ steps: e.target.checked })} />
            how many went on, from the history
          </label>
        )}
        {stackable.includes(c.kind) && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={!!c.stacked} onChange={(e) => put({ stacked: e.target.checked })} />
            {c.measure === "share" ? "stacked to 100 %" : "stacked"}
          </label>
        )}
      </div>
      <details className="mt-3" open={ownLooks.some((k) => c[k])}>
        <summary className="cursor-pointer text-ink2">Style</summary>
        <div className="mt-2 flex flex-wrap items-center gap-2 text-[13px]">
          <label className="flex items-center gap-2">
            Style
            <select className="input !w-56" value={c.style ?? ""} onChange={(e) => put({ style: e.target.value })}>
              <option value="">house style</option>
              {c.style && !styles.some((k) => k.key === c.style) && <option value={c.style}>one that is gone</option>}
              {styles.map((k) => (
                <option key={k.key} value={k.key}>
                  {k.name}
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="link" onClick={() => setKeeping(true)}>
            Keep these looks by name …
          </button>
        </div>
        <div className="mt-2">
          <OwnColours
            colours={c.palette}
            house={styles.find((k) => k.key === c.style)?.style.palette ?? house}
            onChange={(palette) => put({ palette })}
          />
        </div>
        <div className="mt-2 grid grid-cols-3 gap-2 text-[13px]">
          <LookChoices
            value={c}
            below={c.style ? "the style’s" : "house style"}
            onChange={(change) => put(change as Partial<Chart>)}
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
              <input
                className="input"
                value={c[k] ?? ""}
                maxLength={200}
                onChange={(e) => put({ [k]: e.target.value })}
              />
            </label>
          ))}
          {(["heading", "below", "source"] as const).map((k) => (
            <label key={k} className="col-span-3">
              {{ heading: "Heading", below: "A line below it", source: "A note on the source" }[k]}
              <input
                className="input"
                value={c[k] ?? ""}
                maxLength={200}
                onChange={(e) => put({ [k]: e.target.value })}
              />
            </label>
          ))}
        </div>
      </details>
      {keeping && (
        <StyleDialog
          begin={{
            palette: c.palette,
            legend: c.legend,
            guides: c.guides,
            labels: c.labels,
            totals: c.totals,
            on: c.on,
          }}
          onKept={(k) =>
            put({
              style: k.key,
              palette: undefined,
              legend: undefined,
              guides: undefined,
              labels: undefined,
              totals: undefined,
              on: undefined,
            })
          }
          onClose={() => setKeeping(false)}
        />
      )}
    </div>
  );
}

/** An end of the axis; what is no number yet is not asked for. */
function Amount({
  label,
  value,
  onChange,
}: {
  label: string;
  value?: string;
  onChange: (v: string | undefined) => void;
}) {
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
