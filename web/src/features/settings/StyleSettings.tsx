import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useHouseStyle, useSchema, useValues } from "../../api/hooks";
import { Chart } from "../../chart/Chart";
import { ColourOf } from "../../looks/ColourOf";
import { LookChoices } from "../../looks/LookChoices";
import { PaletteEditor } from "../../looks/PaletteEditor";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { useRested } from "../../ui/useRested";

type Style = Schemas["Style"];

/** The house style: how charts look that say nothing else. Its palette is checked as it is edited. */
export function StyleSettings() {
  const kept = useHouseStyle();
  if (!kept) return null;
  return <Editor key={kept.version} style={kept.style} palette={kept.palette} version={kept.version} />;
}

function Editor({ style, palette, version }: { style: Style; palette: string[]; version: number }) {
  const client = useQueryClient();
  const [s, setS] = useState<Style>(style);
  const [colours, setColours] = useState(palette);
  const own = JSON.stringify(colours) !== JSON.stringify(palette) || (style.palette?.length ?? 0) > 0;
  const [save, busy] = useDo(
    ({ style }: { style: Style; said: string }) => ask(api.PUT("/api/settings/style", { body: { style, version } })),
    (_, { said }) => {
      toast(said);
      void client.invalidateQueries();
    },
  );
  const now = { ...s, ...(own ? { palette: colours } : {}) };
  return (
    <div className="sheet max-w-[760px] p-4">
      <Preview style={now} />
      <h3 className="mb-1 font-semibold">Colours of series, in turn</h3>
      <PaletteEditor colours={colours} onChange={setColours} />
      <div className="mb-3 grid max-w-[520px] grid-cols-3 gap-2">
        <LookChoices value={s} onChange={(change) => setS({ ...s, ...change })} />
      </div>
      <ValueColours style={s} palette={colours} onChange={setS} />
      <div className="mt-4 flex justify-end gap-2">
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => save({ style: {}, said: "Back to the style that came with Uzzel" })}
        >
          Back to ours
        </button>
        <button
          type="button"
          className="btn btn-main"
          disabled={busy}
          onClick={() => save({ style: now, said: "Saved. Charts that say nothing else follow it." })}
        >
          Save style
        </button>
      </div>
    </div>
  );
}

/** Charts of one's own records as the style would have them, while it is edited. */
function Preview({ style }: { style: Style }) {
  const rested = useRested(style);
  const drawings = useQuery({
    queryKey: ["preview", rested],
    queryFn: ({ signal }) => ask(api.POST("/api/settings/style/preview", { body: { style: rested }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (drawings.error) return <Trouble error={drawings.error} />;
  return (
    <div className="mb-4 grid h-[250px] grid-cols-[3fr_2fr] gap-4" aria-busy={drawings.isFetching}>
      {drawings.data?.map((d) => (
        <div key={d.kind} data-theme={style.on || undefined} className="min-w-0 overflow-hidden rounded bg-paper p-2">
          <Chart drawing={d} height="100%" />
        </div>
      ))}
    </div>
  );
}

/** The colour that a field's value has on every chart. */
function ValueColours({ style, palette, onChange }: { style: Style; palette: string[]; onChange: (s: Style) => void }) {
  const schema = useSchema();
  const [field, setField] = useState("");
  const [type = "", key = ""] = field.split(".");
  const values = useValues(type, key, "", field !== "");
  if (!schema) return null;
  const choices = schema.types.flatMap((t) =>
    t.fields.filter((f) => f.kind === "choice").map((f) => [`${t.key}.${f.key}`, `${t.label}: ${f.label}`]),
  );
  const set = style.values?.[field] ?? {};
  const put = (next: Record<string, string>) => {
    const all = { ...style.values };
    if (Object.keys(next).length) all[field] = next;
    else delete all[field];
    onChange({ ...style, values: all });
  };
  return (
    <div>
      <h3 className="mb-1 font-semibold">Colours of values, on every chart</h3>
      <select
        className="input !w-72"
        aria-label="Values of which field"
        value={field}
        onChange={(e) => setField(e.target.value)}
      >
        <option value="">Choose a field …</option>
        {choices.map(([k, label]) => (
          <option key={k} value={k}>
            {label}
            {style.values?.[k] ? " (set)" : ""}
          </option>
        ))}
      </select>
      {field && (
        <ul className="mt-2 grid grid-cols-2 gap-x-6">
          {values.data?.map((v, i) => (
            <li key={v.value} className="flex items-center gap-2 py-0.5">
              <span className="mr-auto">{v.label}</span>
              <ColourOf
                name={v.label}
                colour={set[v.value]}
                offered={palette[i % palette.length]}
                onChange={(colour) => {
                  const { [v.value]: _, ...rest } = set;
                  put(colour ? { ...rest, [v.value]: colour } : rest);
                }}
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
