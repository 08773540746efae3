import { useQuery } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { Bar } from "./Bar";

/** How the totals stood at the ends of weeks or months, and now. */
export function Stood({ brief, unit }: { brief: Brief; unit: "week" | "month" }) {
  const stood = useQuery({
    queryKey: ["stood", brief, unit],
    queryFn: () => ask(api.POST("/api/stood", { body: { brief, unit, count: 12 } })),
    retry: false,
  });
  const s = stood.data;
  if (!s) return stood.error ? <Trouble error={stood.error} /> : <p className="mt-3 text-ink2">Working it out …</p>;
  return (
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
        {s.points.map((p) => (
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
  );
}
