import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief, type FieldInfo } from "../../api/client";
import { Chart } from "../../chart/Chart";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { Spans, spanOf } from "./Spans";

/** Of the records that came into a stage within a period: how many went on, where, and after how many days. */
export function StageToStage({ brief, fields }: { brief: Brief; fields: FieldInfo[] }) {
  const [span, setSpan] = useState("last_quarter");
  const [by, setBy] = useState("");
  const { groups: _, across: __, chart: ___, asOf: ____, since: _____, ...bare } = brief;
  const asked: Brief = by ? { ...bare, groups: [{ field: by }] } : bare;
  const passages = useQuery({
    queryKey: ["moves", "passages", asked, span],
    queryFn: () => ask(api.POST("/api/passages", { body: { brief: asked, within: spanOf(span) } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const p = passages.data;
  return (
    <div>
      <p className="mb-3 flex flex-wrap items-center gap-2">
        Of those that came into a stage
        <Spans label="Within which time" value={span} onChange={setSpan} />
        <select
          className="input !w-auto"
          aria-label="By which group"
          value={by}
          onChange={(e) => setBy(e.target.value)}
        >
          <option value="">all together</option>
          {fields
            .filter((f) => f.key !== "stage" && f.key !== "status" && f.key !== "pipeline")
            .map((f) => (
              <option key={f.key} value={f.key}>
                by {f.label.toLowerCase()}
              </option>
            ))}
        </select>
      </p>
      <Trouble error={passages.error} />
      {!p && passages.isPending && <p className="text-ink2">Working it out …</p>}
      {p && !passages.error && (
        <div style={{ opacity: passages.isPlaceholderData ? 0.5 : 1 }}>
          {!by && <Chart drawing={p.drawing} height={Math.max(140, 62 * p.drawing.categories.length)} />}
          <table className="mt-3 w-full border-collapse text-[13px]" aria-label="From stage to stage">
            <thead>
              <tr className="text-left text-[12px] text-ink2">
                {by && <th className="py-1 pr-3 font-normal">{p.label}</th>}
                <th className="py-1 pr-3 font-normal">stage</th>
                <th className="px-2 text-right font-normal">came in</th>
                <th className="px-2 text-right font-normal">went on</th>
                <th className="px-2 text-right font-normal">days, median</th>
                <th className="px-2 text-right font-normal">there yet</th>
                <th className="pl-2 font-normal">where they went</th>
              </tr>
            </thead>
            <tbody>
              {p.groups.flatMap((g, n) =>
                g.stages
                  .filter((s) => n === 0 || s.entered > 0)
                  .map((s, i) => (
                    <tr
                      // biome-ignore lint/suspicious/noArrayIndexKey: groups may be called the same
                      key={`${n} ${s.pipeline} ${s.stage}`}
                      className={i === 0 && by ? "border-line2 border-t-2" : "border-line border-t"}
                    >
                      {by && (
                        <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                          {i === 0 ? g.label : <span className="sr-only">{g.label}</span>}
                        </th>
                      )}
                      <td className="py-1.5 pr-3">{s.stage}</td>
                      <td className="figures px-2 text-right">{count(s.entered)}</td>
                      <td className="figures px-2 text-right">
                        {count(s.onward)} <span className="text-ink2">{s.rate}</span>
                      </td>
                      <td className="figures px-2 text-right">{s.median || "–"}</td>
                      <td className="figures px-2 text-right">{count(s.still)}</td>
                      <td className="pl-2 text-ink2">
                        {s.to.map((to) => `${to.stage} ${count(to.count)}`).join(", ")}
                      </td>
                    </tr>
                  )),
              )}
            </tbody>
          </table>
          {p.groups[0].stages.length === 0 && <p className="mt-2 text-ink2">None came into an open stage then.</p>}
          <p className="mt-2 text-[13px] text-ink2">
            {p.dates}. Each is counted once a stage, as it first came there; days until it left.
            {p.left > 0 && ` ${count(p.left)} more groups are not shown.`}
          </p>
        </div>
      )}
    </div>
  );
}
