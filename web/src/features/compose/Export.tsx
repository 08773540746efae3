import { Popover } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import type { Brief } from "../../api/client";

async function download(brief: Brief, view: string, title: string) {
  const response = await fetch("/api/export", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ brief, view }),
  });
  if (!response.ok) throw new Error((await response.json()).detail);
  const url = URL.createObjectURL(await response.blob());
  const a = document.createElement("a");
  a.href = url;
  a.download = `${title.replace(/[\\/:*?"<>|]+/g, " ").trim() || "report"}.csv`;
  a.click();
  URL.revokeObjectURL(url);
  return Number(response.headers.get("X-Defused") ?? 0);
}

/** Exports the records or the summary as CSV. */
export function Export({ brief, title }: { brief: Brief; title: string }) {
  const [open, setOpen] = useState(false);
  const take = async (view: string) => {
    setOpen(false);
    try {
      const defused = await download(brief, view, title);
      toast(
        defused > 0
          ? `Exported. ${defused.toLocaleString("en")} ${defused === 1 ? "cell" : "cells"} would have been a formula in a spreadsheet; each has an apostrophe in front.`
          : "Exported",
      );
    } catch (e) {
      toast.error((e as Error).message || "The export failed. Try again.");
    }
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="btn">Export</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="pop w-56 p-2" align="end" sideOffset={6}>
          {!brief.parts && (
            <button type="button" className="pick" onClick={() => take("records")}>
              Records as CSV
            </button>
          )}
          <button type="button" className="pick" onClick={() => take("summary")}>
            Summary as CSV
          </button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
