import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { Fragment, useState } from "react";
import type { Answer, Brief, Schemas } from "../../api/client";
import { fetchGrouped, fetchList, useAnswer, useMe } from "../../api/hooks";
import { Chart } from "../../chart/Chart";
import { count, moment } from "../../ui/figures";

const most = 1000;
/** How many records are printed under groups. */
const mostUnder = 5000;

/** A report as it comes out of the printer: its sentence, who took it and when, its drawing, its groups or records. */
export function PrintView({ brief, title, onClose }: { brief: Brief; title: string; onClose: () => void }) {
  const me = useMe().data;
  const answer = useAnswer(brief, 20000);
  const [apart, setApart] = useState(false);
  const a = answer.data;
  const grouped = (a?.groups.length ?? 0) > 0;
  const details = grouped && !brief.totalsOnly && !brief.parts && (a?.groups.some((g) => !g.across) ?? false);
  const records = useQuery({
    queryKey: ["print grouped", brief],
    queryFn: async ({ signal }) => {
      const first = await fetchGrouped(brief, 0, most, signal);
      const rows = [...first.rows];
      while (rows.length < Math.min(first.total, mostUnder))
        rows.push(...(await fetchGrouped(brief, rows.length, most, signal)).rows);
      return { ...first, rows };
    },
    enabled: details,
  });
  const list = useQuery({
    queryKey: ["print", brief],
    queryFn: ({ signal }) => fetchList(brief, undefined, 0, most, signal),
    enabled: !!a && !grouped,
  });
  return (
    <Dialog.Root open onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Content className="print-view fixed inset-0 z-50 overflow-auto bg-sunk" aria-describedby={undefined}>
          <div className="sticky top-0 z-10 flex flex-wrap items-center gap-3 bg-[var(--rail)] px-6 py-2.5 text-[var(--rail-ink)] print:hidden">
            <Dialog.Title className="title mr-auto text-[15px]">As it will be printed</Dialog.Title>
            {grouped && (
              <label className="flex items-center gap-2">
                <input type="checkbox" checked={apart} onChange={(e) => setApart(e.target.checked)} />
                each group on a page of its own
              </label>
            )}
            <button type="button" className="btn btn-main" onClick={() => window.print()}>
              Print
            </button>
            <Dialog.Close className="btn !text-[var(--ink)]">Close</Dialog.Close>
          </div>
          {a && (
            <article
              data-theme="paper"
              className="print-sheet mx-auto my-6 w-[794px] max-w-full bg-white p-10 text-ink"
              aria-label="The printed report"
            >
              <h1 className="title text-2xl">{title || a.title}</h1>
              <p className="mt-1 mb-1">{a.text}</p>
              <p className="mb-4 text-ink2 text-xs">
                {count(a.records)} of {count(a.of)} records · {me?.organisation} · printed by {me?.name},{" "}
                {moment(Date.now() / 1000)} · as of {me?.today}
              </p>
              {grouped && brief.chart && (
                <div className="mb-4 break-inside-avoid">
                  <Chart drawing={a.drawing} share={brief.chart.measure === "share"} height={320} />
                </div>
              )}
              {grouped && (!details || records.data) && <Groups answer={a} apart={apart} records={records.data} />}
              {records.data && records.data.total > records.data.rows.length && (
                <p className="mt-2 text-xs">
                  The first {count(records.data.rows.length)} of {count(records.data.total)} rows. Export groups and
                  records for all of them.
                </p>
              )}
              {list.data && (
                <>
                  <RecordLines list={list.data} first={0} count={most} name="Records" />
                  {list.data.total > most && (
                    <p className="mt-2 text-xs">
                      The first {count(most)} of {count(list.data.total)} rows. Export the records for all of them.
                    </p>
                  )}
                </>
              )}
            </article>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** The groups, their header repeated on every page; a group does not part from its first line. */
function Groups({ answer: a, apart, records }: { answer: Answer; apart: boolean; records?: Schemas["GroupedBody"] }) {
  const places = new Map(records?.places.map((p) => [p.keys.join("\n"), p]));
  const across = a.groups.some((g) => g.across);
  const rows = a.groups.filter((g) => !g.across);
  return (
    <table className="w-full border-collapse text-[12px]">
      <thead>
        <tr className="border-ink border-b align-bottom">
          <th className="px-1 py-1 text-left">{rows.map((g) => g.label).join(", then ")}</th>
          {a.columns.map((c) =>
            a.summaries.map((s) => (
              <th key={`${c.keys.join("\n")} ${s.key}`} className="px-1 py-1 text-right">
                {across ? (c.labels.join(", ") || "All") + (a.summaries.length > 1 ? `: ${s.label}` : "") : s.label}
              </th>
            )),
          )}
        </tr>
      </thead>
      <tbody>
        {a.lines.map((l, i) => (
          <Fragment key={l.keys.join("\n") || "all"}>
            <tr
              className={`break-inside-avoid border-line border-b ${l.depth < rows.length || records ? "font-bold [break-after:avoid]" : ""} ${apart && i > 0 && l.depth === 1 ? "[break-before:page]" : ""}`}
            >
              <td className="px-1 py-0.5" style={{ paddingLeft: 4 + Math.max(0, l.depth - 1) * 14 }}>
                {l.label}
              </td>
              {l.cells.flatMap((c, k) =>
                c.map((text, n) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: cells stand in the order of columns
                  <td key={`${k} ${n}`} className="px-1 py-0.5 text-right">
                    {text}
                    {l.before?.[k]?.[n]?.text && (
                      <span className="block text-[10px] font-normal text-ink2">{l.before[k][n].text}</span>
                    )}
                  </td>
                )),
              )}
            </tr>
            {records && places.has(l.keys.join("\n")) && (
              <tr>
                <td
                  colSpan={1 + a.columns.length * a.summaries.length}
                  className="p-0 pb-2"
                  style={{ paddingLeft: 4 + l.depth * 14 }}
                >
                  <RecordLines
                    list={records}
                    first={places.get(l.keys.join("\n"))?.first ?? 0}
                    count={places.get(l.keys.join("\n"))?.count ?? 0}
                    name={l.label}
                  />
                </td>
              </tr>
            )}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

/** Records under their own header, which is repeated on every page. */
function RecordLines({
  list,
  first,
  count,
  name,
}: {
  list: Schemas["ListBody"];
  first: number;
  count: number;
  name: string;
}) {
  return (
    <table className="w-full border-collapse text-[12px]" aria-label={name}>
      <thead>
        <tr className="border-ink border-b">
          {list.columns.map((c) => (
            <th key={c.field} className={`px-1 py-1 font-normal ${c.number ? "text-right" : "text-left"}`}>
              {c.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {list.rows.slice(first, first + count).map((r, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a record can stand in several rows
          <tr key={i} className="break-inside-avoid border-line border-b">
            {r.cells.map((c, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: cells stand in the order of columns
              <td key={k} className={`px-1 py-0.5 ${list.columns[k].number ? "text-right" : ""}`}>
                {c.text}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
