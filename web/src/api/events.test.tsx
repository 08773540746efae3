import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useEvents } from "./useEvents";

/** A stream of events that the test tells. */
class Stream {
  static open: Stream[] = [];
  onmessage: ((e: { data: string }) => void) | null = null;
  closed = false;
  constructor(public url: string) {
    Stream.open.push(this);
  }
  close() {
    this.closed = true;
  }
}

describe("what the server tells", () => {
  const client = new QueryClient();
  const asked = vi.spyOn(client, "invalidateQueries").mockResolvedValue();
  beforeEach(() => {
    vi.useFakeTimers({ now: 1_000_000 });
    vi.stubGlobal("EventSource", Stream);
    vi.stubGlobal("BroadcastChannel", undefined);
    delete (window as { BroadcastChannel?: unknown }).BroadcastChannel;
    Stream.open = [];
    asked.mockClear();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const start = () =>
    renderHook(() => useEvents(), {
      wrapper: ({ children }) => <QueryClientProvider client={client}>{children}</QueryClientProvider>,
    });
  const tell = (kind: string, id = 0) =>
    act(() => Stream.open.at(-1)?.onmessage?.({ data: JSON.stringify({ kind, id }) }));
  const keys = () => asked.mock.calls.map(([f]) => (f as { queryKey: unknown[] } | undefined)?.queryKey);

  it("asks anew at once for what was kept, its lists and what is found", () => {
    start();
    expect(Stream.open[0].url).toBe("/api/events");
    tell("report", 7);
    expect(keys()).toEqual([["find"], ["reports"], ["report", 7], ["panel"]]);
    asked.mockClear();
    tell("targets");
    expect(keys()).toContainEqual(["measures"]);
  });

  it("asks anew for everything when another day begins, or settings have changed", () => {
    start();
    tell("day");
    expect(keys()).toEqual([undefined]);
    tell("settings");
    expect(keys()).toEqual([undefined, undefined]);
  });

  const wait = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

  it("asks anew for what hangs on records at once, then once for all that changed within a moment", async () => {
    start();
    tell("records");
    await wait(1);
    expect(keys().map(String)).toEqual("answer panel list explain record values waits moves stood".split(" "));
    asked.mockClear();
    for (let i = 0; i < 5; i++) {
      tell("records");
      await wait(50);
    }
    expect(keys()).toEqual([]);
    await wait(60);
    expect(keys(), "once for all of them").toHaveLength(9);
    asked.mockClear();
    await wait(10_000);
    expect(keys(), "and no more once nothing changes").toEqual([]);
  });

  it("lets a server rest that takes long to answer, for five seconds at most, and misses no change", async () => {
    start();
    const slow = (ms: number) => asked.mockImplementation(() => new Promise((done) => setTimeout(done, ms)));
    slow(1000);
    tell("records");
    await wait(1);
    asked.mockClear();
    tell("records"); // while the answers are still to come
    await wait(3900);
    expect(keys()).toEqual([]);
    await wait(200);
    expect(keys(), "three times as long as they took").toHaveLength(9);

    await wait(5000);
    slow(60_000); // one that does not come holds up no other for long
    tell("records");
    await wait(1);
    asked.mockClear();
    tell("records");
    await wait(9900);
    expect(keys()).toEqual([]);
    await wait(200);
    expect(keys()).toHaveLength(9);
    asked.mockResolvedValue();
  });

  it("lets go of its connection while the page is put away, and takes up what it missed", () => {
    start();
    act(() => void window.dispatchEvent(new Event("pagehide")));
    expect(Stream.open[0].closed).toBe(true);
    act(() => void window.dispatchEvent(Object.assign(new Event("pageshow"), { persisted: false })));
    expect(Stream.open).toHaveLength(1);
    act(() => void window.dispatchEvent(Object.assign(new Event("pageshow"), { persisted: true })));
    expect(Stream.open).toHaveLength(2);
    expect(keys(), "all that it has").toEqual([undefined]);
  });

  it("hears nothing more when it is left", async () => {
    const { unmount } = start();
    tell("records");
    await wait(1);
    tell("records");
    asked.mockClear();
    unmount();
    expect(Stream.open[0].closed).toBe(true);
    act(() => void vi.advanceTimersByTime(10_000));
    expect(keys()).toEqual([]);
  });
});
