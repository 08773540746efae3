import { keepPreviousData, type QueryClient, useQueries, useQuery } from "@tanstack/react-query";
import { api, type Brief, Refused, type Schemas } from "./client";

export type PanelAsk = Schemas["PanelAsk"];
export type PanelLine = Schemas["PanelLine"];
export type FieldFilter = Schemas["FieldFilter"];

/** What a board's panels are narrowed to: for this reading, or as the board keeps it. */
export type Filters = {
  period?: Schemas["MainPeriod"]["within"];
  whose?: Brief["whose"];
  fields?: FieldFilter[];
  asOf?: Brief["asOf"];
};

export const isEmpty = (f: Filters) =>
  f.period === undefined &&
  (f.whose === undefined || f.whose === "everyone") &&
  !f.fields?.length &&
  f.asOf === undefined;

type Waiting = { ask: PanelAsk; signal: AbortSignal; done: (line: PanelLine) => void; fail: (e: unknown) => void };

/** As many panels as one request may ask for. */
const most = 60;

/** The panels that were asked for since the browser last had a moment, by the filters that they are read under. */
const next = new Map<string, Waiting[]>();

/**
 * Answers one panel. All that are asked for at one moment go to the server in one request, which answers each as soon as
 * it is ready: a slow one holds up none of the others, and no connection but its own.
 */
export function loadPanel(ask: PanelAsk, filters: Filters, signal: AbortSignal): Promise<PanelLine> {
  return new Promise((done, fail) => {
    const key = JSON.stringify(filters);
    const list = next.get(key);
    if (list && list.length < most) return void list.push({ ask, signal, done, fail });
    const fresh: Waiting[] = [{ ask, signal, done, fail }];
    next.set(key, fresh);
    setTimeout(() => {
      if (next.get(key) === fresh) next.delete(key);
      void send(filters, fresh);
    });
  });
}

async function send(filters: Filters, all: Waiting[]) {
  const list = all.filter((w) => !w.signal.aborted);
  for (const w of all) if (w.signal.aborted) w.fail(w.signal.reason);
  if (!list.length) return;
  const stop = new AbortController();
  let gone = 0;
  for (const w of list)
    w.signal.addEventListener("abort", () => {
      w.fail(w.signal.reason);
      if (++gone === list.length) stop.abort();
    });
  try {
    const { response, error } = await api.POST("/api/panels", {
      body: { filters, panels: list.map((w) => w.ask) },
      parseAs: "stream",
      signal: stop.signal,
    });
    if (!response.ok || !response.body) throw refused(response.status, error);
    for await (const line of linesOf(response.body)) {
      const got = JSON.parse(line) as PanelLine;
      const w = list[got.at];
      if (got.problem && !got.report) w?.fail(refused(got.problem.status, got.problem));
      else w?.done(got);
    }
    throw refused(0);
  } catch (e) {
    // Those that were answered are; a promise that is settled takes no notice.
    const lost = e instanceof Refused || (e instanceof DOMException && stop.signal.aborted) ? e : refused(0);
    for (const w of list) w.fail(lost);
  }
}

const refused = (status: number, problem?: unknown) =>
  new Refused(status, {
    title: "No answer",
    status,
    detail: "The server cannot be reached. Nothing here is lost; try again in a moment.",
    ...(problem as Partial<Schemas["ErrorBody"]>),
  });

/** The lines of a stream of text, each as soon as it is whole. */
export async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    rest += decoder.decode(value, { stream: !done });
    const lines = rest.split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) if (line) yield line;
    if (done) {
      if (rest) yield rest;
      return;
    }
  }
}

const panelQuery = (ask: PanelAsk, filters: Filters) => ({
  queryKey: ["panel", ask, filters] as const,
  queryFn: ({ signal }: { signal: AbortSignal }) => loadPanel(ask, filters, signal),
  placeholderData: keepPreviousData,
  retry: false as const,
});

/** A report as it is read where it is placed. While it is read under other filters, what it showed before stays. */
export const usePanel = (ask: PanelAsk, filters: Filters) => useQuery(panelQuery(ask, filters));

/** The record types that panels are about, as far as they were answered. */
export const usePanelStarts = (asks: PanelAsk[], filters: Filters): string[] =>
  useQueries({
    queries: asks.map((ask) => panelQuery(ask, filters)),
    combine: (all) => [...new Set(all.flatMap(({ data }) => (data?.report ? [startOf(data.report.brief)] : [])))],
  });

const startOf = (b: Brief) => b.start ?? b.parts?.[0]?.start ?? "";

/** Has the panels of a report answered anew: all panels, where none is named. */
export const panelsAnew = (client: QueryClient, report?: number) =>
  client.invalidateQueries({
    queryKey: ["panel"],
    predicate: ({ queryKey: [, ask] }) => report === undefined || (ask as PanelAsk).report === report,
  });
