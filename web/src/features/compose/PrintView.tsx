import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Brief } from "../../api/client";
import { fetchGrouped, fetchList, useAnswer, useMe } from "../../api/hooks";
import { Chart } from "../../chart/Chart";
import { PaperRecords, PaperTable } from "../../table/PaperTable";
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
              {grouped && (!details || records.data) && <PaperTable answer={a} apart={apart} records={records.data} />}
              {records.data && records.data.total > records.data.rows.length && (
                <p className="mt-2 text-xs">
                  The first {count(records.data.rows.length)} of {count(records.data.total)} rows. Export groups and
                  records for all of them.
                </p>
              )}
              {list.data && (
                <>
                  <PaperRecords records={list.data} first={0} count={most} name="Records" />
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
