import { Popover } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import type { Brief, Report } from "../../api/client";
import { pictureKinds } from "../../chart/PictureItems";
import { picture, pictureText } from "../../chart/picture";
import { takeOut, takePages, type Wish } from "../../ui/takeOut";

const formats: [Wish["format"], string][] = [
  ["csv", "CSV"],
  ["xlsx", "Workbook (XLSX)"],
  ["json", "JSON"],
];

const chartOnScreen = () => document.querySelector<HTMLElement>("main section[aria-label=Chart]");

/** Takes the records or the summary out as a file. Where the owner does not let a report out, it says so instead. */
export function Export({ brief, report }: { brief: Brief; report?: Report }) {
  const [open, setOpen] = useState(false);
  const kept = !!report?.noDownload && !report.mayChange;
  const [keys, setKeys] = useState(false);
  const take = async (wish: Wish) => {
    setOpen(false);
    const box = wish.format === "xlsx" ? chartOnScreen() : undefined;
    // A workbook without its picture is better than none.
    const chart = box ? await pictureText(box).catch(() => undefined) : undefined;
    void takeOut(brief, report, keys ? { ...wish, names: "keys" } : wish, chart);
  };
  const rows: [Wish["view"], string][] = [
    ...(brief.parts ? [] : ([["records", "Records"]] as [Wish["view"], string][])),
    ["summary", "Summary"],
  ];
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="btn">Export</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="pop w-64 p-2" align="end" sideOffset={6} collisionPadding={12} aria-label="Export">
          {kept && (
            <p className="px-2 py-1 text-ink2">
              {report.owner} does not let this report be downloaded. It can be read and printed.
            </p>
          )}
          {!kept &&
            rows.map(([view, text]) =>
              formats.map(([format, as]) => (
                <button
                  key={view + format}
                  type="button"
                  className="pick"
                  onClick={() =>
                    void take({ view: view === "summary" && format === "xlsx" ? "outline" : view, format })
                  }
                >
                  {text} as {as}
                </button>
              )),
            )}
          {!kept && (
            <button
              type="button"
              className="pick"
              onClick={() => {
                setOpen(false);
                void takePages({ brief, ...(report ? { report: report.id, title: report.title } : {}) });
              }}
            >
              On pages, as PDF
            </button>
          )}
          {!kept && (
            <label className="flex items-center gap-2 px-2 py-1 text-[13px]">
              <input type="checkbox" checked={keys} onChange={(e) => setKeys(e.target.checked)} />
              names of fields for programs
            </label>
          )}
          {!kept && chartOnScreen() && (
            <>
              <p className="px-2 pt-2 text-ink3 text-xs">A picture of the chart</p>
              {pictureKinds.map(([as, words]) => (
                <button
                  key={as}
                  type="button"
                  className="pick"
                  onClick={() => {
                    setOpen(false);
                    const box = chartOnScreen();
                    if (box) picture(box, report?.title ?? "chart", as).catch((e) => toast.error((e as Error).message));
                  }}
                >
                  {words}
                </button>
              ))}
            </>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
