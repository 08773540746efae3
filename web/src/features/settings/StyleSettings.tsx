import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useSchema, useValues } from "../../api/hooks";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";

type Style = Schemas["Style"];

/** The house style: how charts look that say nothing else. Its palette is checked as it is edited. */
export function StyleSettings() {
  const kept = useQuery({ queryKey: ["style"], queryFn: () => ask(api.GET("/api/settings/style")) });
  if (kept.error) return <Trouble error={kept.error} />;
  if (!kept.data) return null;
  return <Editor key={JSON.stringify(kept.data.style)} style={kept.data.style} palette={kept.data.palette} />;
}

function Editor({ style, palette }: { style: Style; palette: string[] }) {
  const client = useQueryClient();
  const [s, setS] = useState<Style>(style);
  const [colours, setColours] = useState(palette);
  const [rested, setRested] = useState(colours);
  useEffect(() => {
    const timer = setTimeout(() => setRested(colours), 150);
    return () => clearTimeout(timer);
  }, [colours]);
  const findings = useQuery({
    queryKey: ["palette", rested],
    queryFn: () => ask(api.POST("/api/settings/palette", { body: { palette: rested } })),
    placeholderData: keepPreviousData,
  });
  const own = JSON.stringify(colours) !== JSON.stringify(palette) || (style.palette?.length ?? 0) > 0;
  const save = (next: Style, said: string) =>
    ask(api.PUT("/api/settings/style", { body: next })).then(() => {
      toast(said);
      void client.invalidateQueries();
    }, tell);
  const wrong = new Set((findings.data ?? []).flatMap((f) => f.colours));
  return (
    <div className="sheet max-w-[760px] p-4">
      <h3 className="mb-1 font-semibold">Colours of series, in turn</h3>
      <ul aria-label="Palette" className="mb-2 flex flex-wrap gap-3">
        {colours.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a colour is its place
          <li key={i} className="text-center text-[12px]">
            <input
              type="color"
              aria-label={`Colour ${i + 1}`}
              value={c}
              className={`block h-11 w-14 cursor-pointer rounded border-2 ${wrong.has(c) ? "border-[var(--rust)]" : "border-line"}`}
              onChange={(e) => setColours(colours.map((x, k) => (k === i ? e.target.value.toUpperCase() : x)))}
            />
            {c}
            {colours.length > 3 && (
              <button
                type="button"
                className="block w-full text-ink2 hover:underline"
                onClick={() => setColours(colours.filter((_, k) => k !== i))}
              >
                take out
              </button>
            )}
          </li>
        ))}
        {colours.length < 12 && (
          <li>
            <button type="button" className="btn !h-11" onClick={() => setColours([...colours, "#777777"])}>
              One more
            </button>
          </li>
        )}
      </ul>
      <div aria-live="polite" className="mb-3 text-[13px]">
        {findings.data?.length === 0 && (
          <p className="text-sea">All stand out on paper and on ink, and are told apart by readers of any sight.</p>
        )}
        {findings.data?.map((f) => (
          <p key={f.text} className="text-rust">
            {f.text}
          </p>
        ))}
      </div>
      <div className="mb-3 grid max-w-[520px] grid-cols-3 gap-2">
        {(
          [
            ["legend", "Legend", ["top", "right", "below", "left", "none"]],
            ["guides", "Guides", ["values", "both", "stripes", "none"]],
            ["labels", "Labels", ["", "values", "shares", "both", "none"]],
          ] as const
        ).map(([key, label, list]) => (
          <label key={key} className="text-[13px]">
            {label}
            <select className="input" value={s[key] ?? list[0]} onChange={(e) => setS({ ...s, [key]: e.target.value || undefined })}>
              {list.map((v) => (
                <option key={v} value={v}>
                  {v || "as they fit"}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
      <ValueColours style={s} palette={colours} onChange={setS} />
      <div className="mt-4 flex justify-end gap-2">
        <button type="button" className="btn btn-quiet" onClick={() => save({}, "Back to the style that came with Uzzel")}>
          Back to ours
        </button>
        <button
          type="button"
          className="btn btn-main"
          onClick={() => save({ ...s, ...(own ? { palette: colours } : {}) }, "Saved. Charts that say nothing else follow it.")}
        >
          Save style
        </button>
      </div>
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
      <select className="input !w-72" aria-label="Values of which field" value={field} onChange={(e) => setField(e.target.value)}>
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
              {set[v.value] ? (
                <>
                  <input
                    type="color"
                    aria-label={`Colour of ${v.label}`}
                    value={set[v.value]}
                    onChange={(e) => put({ ...set, [v.value]: e.target.value.toUpperCase() })}
                  />
                  <button
                    type="button"
                    className="btn btn-quiet !px-1.5"
                    aria-label={`No colour for ${v.label}`}
                    onClick={() => {
                      const { [v.value]: _, ...rest } = set;
                      put(rest);
                    }}
                  >
                    ×
                  </button>
                </>
              ) : (
                <button type="button" className="link text-[13px]" onClick={() => put({ ...set, [v.value]: palette[i % palette.length] })}>
                  give it a colour
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
