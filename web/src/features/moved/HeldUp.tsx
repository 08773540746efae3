import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief } from "../../api/client";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { Bar } from "./Bar";
import { Spans, spanOf } from "./Spans";

/** What was expected within a period, as seen before it began, and what became of it. */
export function HeldUp({ brief }: { brief: Brief }) {
  const [span, setSpan] = useState("last_quarter");
  const { groups: _, across: __, chart: ___, asOf: ____, since: _____, ...bare } = brief;
  const held = useQuery({
    queryKey: ["moves", "held", bare, span],
    queryFn: () => ask(api.POST("/api/held", { body: { brief: bare, within: spanOf(span) } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const h = held.data;
  return (
    <div>
      <p className="mb-3 flex flex-wrap items-center gap-2">
        What was expected of
        <Spans label="Expected within which time" value={span} onChange={setSpan} />
        as seen on the day before, whatever the report asks of stages and dates
      </p>
      <Trouble error={held.error} />
      {!h && held.isPending && <p className="text-ink2">Working it out …</p>}
      {h && !held.error && (
        <div style={{ opacity: held.isPlaceholderData ? 0.5 : 1 }}>
          <p className="sentence mb-3">{h.text}</p>
          <table className="w-full border-collapse text-[13.5px]" aria-label="What became of it">
            <thead>
              <tr className="text-left text-[12px] text-ink2">
                <th className="py-1 pr-3 font-normal">what became of it</th>
                <td className="w-[40%]" />
                <th className="px-2 text-right font-normal">records</th>
                <th className="px-2 text-right font-normal">as expected</th>
                <th className="pl-2 text-right font-normal">of it</th>
              </tr>
            </thead>
            <tbody>
              {h.outcomes.map((o, i) => (
                <tr key={o.words} className="border-line border-t">
                  <th scope="row" className={`py-1.5 pr-3 text-left ${i ? "font-normal" : "font-bold"}`}>
                    {o.words}
                  </th>
                  <td aria-hidden="true">
                    <Bar from={0} to={o.share} colour={i ? "var(--sea)" : "var(--ink)"} />
                  </td>
                  <td className="figures px-2 text-right">{count(o.records)}</td>
                  <td className="figures px-2 text-right">{o.value || "–"}</td>
                  <td className="figures pl-2 text-right">{o.part || "–"}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {h.median && (
            <p className="mt-3 text-ink2">
              Of the {count(h.decided)} that were decided, half were so {h.median} the date that was expected, or later.
            </p>
          )}
          {h.likely.length > 0 && (
            <table className="mt-4 w-full border-collapse text-[13.5px]" aria-label="How likelihoods held">
              <thead>
                <tr className="text-left text-[12px] text-ink2">
                  <th className="py-1 pr-3 font-normal">stated likelihood</th>
                  <td className="w-[40%]">stated, and won below it</td>
                  <th className="px-2 text-right font-normal">records</th>
                  <th className="px-2 text-right font-normal">won</th>
                  <th className="pl-2 text-right font-normal">came true</th>
                </tr>
              </thead>
              <tbody>
                {h.likely.map((l) => (
                  <tr key={l.stated} className="border-line border-t">
                    <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                      {l.stated}
                    </th>
                    <td aria-hidden="true">
                      <Bar from={0} to={l.said} colour="var(--line)" />
                      <Bar from={0} to={l.is} colour={l.is < l.said ? "var(--rust)" : "var(--sea)"} />
                    </td>
                    <td className="figures px-2 text-right">{count(l.records)}</td>
                    <td className="figures px-2 text-right">{count(l.won)}</td>
                    <td className="figures pl-2 text-right">{l.came}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      )}
    </div>
  );
}
