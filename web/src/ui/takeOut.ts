import { toast } from "sonner";
import { type Brief, fetched, type Report } from "../api/client";
import { download } from "./download";
import { count } from "./figures";

export type Wish = {
  view: "records" | "summary" | "outline";
  format: "csv" | "xlsx" | "json";
  names?: "shown" | "keys";
};

/** Takes what a brief comes to out as a file, and says how that went. */
export async function takeOut(brief: Brief, report: Report | undefined, wish: Wish, chart?: string) {
  try {
    const defused = await taken(brief, report, wish, chart);
    toast(
      defused > 0
        ? `Exported. ${count(defused)} ${defused === 1 ? "cell" : "cells"} would have been a formula in a spreadsheet; each has an apostrophe in front.`
        : "Exported",
    );
  } catch (e) {
    toast.error((e as Error).message || "The export failed. Try again.");
  }
}

async function taken(brief: Brief, report: Report | undefined, wish: Wish, chart?: string) {
  const asked = { brief, ...(report ? { report: report.id } : {}), ...wish, ...(chart ? { chart } : {}) };
  const response = await fetched("/api/export", JSON.stringify(asked));
  await handedOver(response, `report.${wish.format}`);
  return Number(response.headers.get("X-Defused") ?? 0);
}

/** Hands over a file that the server made, under the name that it gave it. */
async function handedOver(response: Response, otherwise: string) {
  const said = response.headers.get("Content-Disposition") ?? "";
  const name = /filename\*=utf-8''([^;]+)/i.exec(said)?.[1] ?? /filename="?([^";]+)/.exec(said)?.[1];
  download(await response.blob(), name ? decodeURIComponent(name) : otherwise);
}

/** Takes something out on pages: a brief as it is answered, or a dashboard as it is narrowed. */
export async function takePages(
  what: { brief: Brief; report?: number; title?: string } | { board: number; filters: object },
) {
  try {
    const response =
      "board" in what
        ? await fetched(
            `/api/boards/${what.board}/picture?format=pdf&filters=${encodeURIComponent(JSON.stringify(what.filters))}`,
          )
        : await fetched("/api/picture?format=pdf", JSON.stringify(what));
    await handedOver(response, "report.pdf");
    toast("Exported");
  } catch (e) {
    toast.error((e as Error).message || "The export failed. Try again.");
  }
}
