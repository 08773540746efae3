import { afterEach, describe, expect, it, vi } from "vitest";
import { api, Refused } from "./client";
import { linesOf, loadPanel } from "./panels";

/** A server of panels whose stream a test writes itself. */
function streaming() {
  const asked: { panels: { report: number }[]; filters: unknown }[] = [];
  const streams: { write: (line: unknown) => void; end: () => void; signal: AbortSignal }[] = [];
  const serves = {
    onRequest: async ({ request }: { request: Request }) => {
      asked.push(await request.json());
      const text = new TextEncoder();
      let to!: ReadableStreamDefaultController<Uint8Array>;
      const body = new ReadableStream<Uint8Array>({
        start(c) {
          to = c;
          request.signal.addEventListener("abort", () => c.error(request.signal.reason));
        },
      });
      streams.push({
        write: (l) => to.enqueue(text.encode(`${JSON.stringify(l)}\n`)),
        end: () => to.close(),
        signal: request.signal,
      });
      return new Response(body, { headers: { "Content-Type": "application/x-ndjson" } });
    },
  };
  api.use(serves);
  return { asked, streams, stop: () => api.eject(serves) };
}

const never = new AbortController().signal;

describe("panels in one request", () => {
  let server: ReturnType<typeof streaming>;
  afterEach(() => server?.stop());

  it("asks for all of a moment at once, by the filters they are read under, and hands each on as it comes", async () => {
    server = streaming();
    const first = loadPanel({ report: 1 }, {}, never);
    const second = loadPanel({ report: 2 }, {}, never);
    const other = loadPanel({ report: 3 }, { whose: "mine" }, never);
    await vi.waitFor(() => expect(server.streams).toHaveLength(2));
    expect(server.asked.map((a) => a.panels.map((p) => p.report))).toEqual([[1, 2], [3]]);
    server.streams[0].write({ at: 1, words: "second" });
    expect((await second).words).toBe("second");
    server.streams[1].write({ at: 0, words: "other" });
    expect((await other).words).toBe("other");
    server.streams[0].write({ at: 0, words: "first" });
    server.streams[0].end();
    expect((await first).words).toBe("first");
  });

  it("tells of what cannot be opened, and keeps a report whose numbers cannot be worked out", async () => {
    server = streaming();
    const gone = loadPanel({ report: 1 }, {}, never);
    const slow = loadPanel({ report: 2 }, {}, never);
    await vi.waitFor(() => expect(server.streams).toHaveLength(1));
    server.streams[0].write({
      at: 0,
      problem: { status: 404, title: "Not Found", detail: "There is no such report." },
    });
    server.streams[0].write({
      at: 1,
      report: { id: 2 },
      problem: { status: 422, title: "Too large", detail: "Too large." },
    });
    await expect(gone).rejects.toMatchObject({ status: 404 });
    expect((await slow).problem?.detail).toBe("Too large.");
  });

  it("says so where the answer breaks off, to those alone that have none", async () => {
    server = streaming();
    const first = loadPanel({ report: 1 }, {}, never);
    const second = loadPanel({ report: 2 }, {}, never);
    await vi.waitFor(() => expect(server.streams).toHaveLength(1));
    server.streams[0].write({ at: 0, words: "first" });
    server.streams[0].end();
    expect((await first).words).toBe("first");
    await expect(second).rejects.toBeInstanceOf(Refused);
  });

  it("gives the request up when nobody waits for any of it", async () => {
    server = streaming();
    const [a, b] = [new AbortController(), new AbortController()];
    const first = loadPanel({ report: 1 }, {}, a.signal);
    const second = loadPanel({ report: 2 }, {}, b.signal);
    await vi.waitFor(() => expect(server.streams).toHaveLength(1));
    a.abort();
    await expect(first).rejects.toMatchObject({ name: "AbortError" });
    expect(server.streams[0].signal.aborted).toBe(false);
    b.abort();
    await expect(second).rejects.toMatchObject({ name: "AbortError" });
    await vi.waitFor(() => expect(server.streams[0].signal.aborted).toBe(true));
  });

  it("puts lines together that arrive in pieces, letters of several bytes too", async () => {
    const bytes = new TextEncoder().encode('{"a":"ü"}\n\n{"b":1}');
    const body = new ReadableStream<Uint8Array>({
      start(c) {
        for (const b of bytes) c.enqueue(Uint8Array.of(b));
        c.close();
      },
    });
    const got: string[] = [];
    for await (const line of linesOf(body)) got.push(line);
    expect(got).toEqual(['{"a":"ü"}', '{"b":1}']);
  });
});
