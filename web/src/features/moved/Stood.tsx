import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief, type FieldInfo } from "../../api/client";
import { Chart } from "../../chart/Chart";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { Bar } from "./Bar";
import { points, type Unit, units } from "./units";

/** How the totals stood at the ends of days, weeks or months, and now, by a group where one is asked for. */
export function Stood({ brief, fields }: { brief: Brief; fields: FieldInfo[] }) {
  const [unit, setUnit] = useState<Unit>("week");
  const own = brief.groups?.[0]?.field;
  const [by, setBy] = useState(fields.some((f) => f.key === own) ? (own as string) : "");
  const [lines, setLines] = useState(false);
  const { groups: _, ...bare } = brief;
  const asked: Brief = by ? { ...bare, groups: [{ field: by }] } : bare;
  const stood = useQuery({
    queryKey: ["stood", asked, unit, lines],
    queryFn: () => ask(api.POST("/api/stood", { body: { brief: asked, unit, count: points[unit], lines } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const s = stood.data;
  return (
    <div className="mt-3">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <Seg label="At the ends of" value={unit} onChange={setUnit} options={units} />
        <select
          className="input !w-auto"
          aria-label="By which group"
          value={by}
          onChange={(e) => setBy(e.target.value)}
        >
          <option value="">all together</option>
          {fields.map((f) => (
            <option key={f.key} value={f.key}>
              by {f.label.toLowerCase()}
            </option>
          ))}
        </select>
        {by && (
          <Seg
            label="Drawn as"
            value={lines ? "lines" : "areas"}
            onChange={(v) => setLines(v === "lines")}
            options={[
              ["areas", "Areas"],
              ["lines", "Lines"],
            ]}
          />
        )}
      </div>
      <Trouble error={stood.error} />
      {!s && stood.isPending && <p className="text-ink2">Working it out …</p>}
      {s && !stood.error && (
        <div style={{ opacity: stood.isPlaceholderData ? 0.5 : 1 }}>
          {s.target && (
            <p className="mb-1 text-[13px] text-ink2">The target is {s.target}; the dotted line shows it.</p>
          )}
          {s.drawing && <Chart drawing={s.drawing} height={260} />}
          <table className="mt-3 w-full border-collapse text-[14px]">
            <thead>
              <tr className="text-left text-[12px] text-ink2">
                <th className="py-1 pr-3 font-normal">at the end of</th>
                <td className="w-[40%]">{s.drawn}</td>
                <th className="px-2 text-right font-normal">records</th>
                {s.summaries.map((name) => (
                  <th key={name} className="px-2 text-right font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {s.points.toReversed().map((p) => (
                <tr key={p.day} className="border-line border-t">
                  <th scope="row" className={`py-1.5 pr-3 text-left ${p.date ? "font-normal" : "font-bold"}`}>
                    {p.day}
                  </th>
                  <td aria-hidden="true">
                    <Bar from={p.from} to={p.to} colour={p.date ? "var(--sea)" : "var(--ink)"} />
                  </td>
                  <td className="figures px-2 text-right">{count(p.records)}</td>
                  {p.values.map((v, k) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: values have no other identity than their place
                    <td key={k} className="figures px-2 text-right">
                      {v || "–"}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}
