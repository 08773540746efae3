import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Brief } from "../../api/client";
import { useDraft } from "./useDraft";
import { useEdits } from "./useEdits";

/** A server that keeps one draft, or refuses. */
const server = vi.hoisted(() => ({ asked: [] as { method: string; body: Record<string, unknown> }[], status: 200 }));
vi.mock("../../api/client", async (original) => {
  const answer = (method: string, body: Record<string, unknown> = {}) => {
    server.asked.push({ method, body });
    const fine = server.status === 200;
    return Promise.resolve({
      data: fine ? { id: 7, revision: server.asked.length, changed: 1 } : undefined,
      error: fine ? undefined : { title: "Changed", detail: "in another window" },
      response: new Response(null, { status: server.status }),
    });
  };
  return {
    ...(await original<typeof import("../../api/client")>()),
    api: { PUT: (_: string, o: { body: Record<string, unknown> }) => answer("PUT", o.body), DELETE: () => answer("DELETE") },
  };
});

const at = (limit: number): Brief => ({ version: 1, start: "deals", limit });

describe("undo and redo", () => {
  it("goes back and forth, and forgets what was undone when something else is done", () => {
    const { result } = renderHook(() => useEdits(at(1)));
    act(() => result.current.set(at(2)));
    act(() => result.current.set(at(2)));
    act(() => result.current.set(at(3)));
    act(() => result.current.undo());
    expect(result.current.brief.limit).toBe(2);
    act(() => result.current.undo());
    expect([result.current.brief.limit, result.current.canUndo, result.current.canRedo]).toEqual([1, false, true]);
    act(() => result.current.undo());
    expect(result.current.brief.limit).toBe(1);
    act(() => result.current.redo());
    expect(result.current.brief.limit).toBe(2);
    act(() => result.current.set(at(9)));
    expect(result.current.canRedo).toBe(false);
  });

  it("listens to the keys, but not while one types", () => {
    const { result } = renderHook(() => useEdits(at(1)));
    act(() => result.current.set(at(2)));
    const input = document.body.appendChild(document.createElement("input"));
    act(() => void input.dispatchEvent(new KeyboardEvent("keydown", { key: "z", ctrlKey: true, bubbles: true })));
    expect(result.current.brief.limit).toBe(2);
    act(() => void document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "z", ctrlKey: true, bubbles: true })));
    expect(result.current.brief.limit).toBe(1);
    act(() => void document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "Z", ctrlKey: true, shiftKey: true, bubbles: true })));
    expect(result.current.brief.limit).toBe(2);
    input.remove();
  });
});

describe("drafts", () => {
  beforeEach(() => {
    server.asked.length = 0;
    server.status = 200;
    vi.useFakeTimers({ shouldAdvanceTime: true });
  });
  afterEach(() => void vi.useRealTimers());
  const { asked } = server;
  const rest = () => act(() => vi.advanceTimersByTimeAsync(900));

  it("keeps nothing until something changes, then each change once it rests, on the draft that was made", async () => {
    const made = vi.fn();
    const { rerender } = renderHook(({ brief }) => useDraft({ on: true, brief, onMade: made }), { initialProps: { brief: at(1) } });
    await rest();
    expect(asked).toHaveLength(0);
    rerender({ brief: at(2) });
    rerender({ brief: at(3) });
    await rest();
    expect(asked.map((a) => [a.method, a.body.id, (a.body.brief as Brief).limit])).toEqual([["PUT", undefined, 3]]);
    expect(made).toHaveBeenCalledTimes(1);
    rerender({ brief: at(4) });
    await rest();
    expect([asked[1].body.id, asked[1].body.revision]).toEqual([7, 1]);
    expect(made).toHaveBeenCalledTimes(1);
  });

  it("says so and stops where another window changed the draft", async () => {
    const { result, rerender } = renderHook(({ brief }) => useDraft({ on: true, brief }), { initialProps: { brief: at(1) } });
    server.status = 409;
    rerender({ brief: at(2) });
    await rest();
    expect(result.current.trouble?.message).toBe("in another window");
    server.status = 200;
    rerender({ brief: at(3) });
    await rest();
    expect(asked).toHaveLength(1);
  });

  it("is thrown away when the report is kept", async () => {
    const { result, rerender } = renderHook(({ brief }) => useDraft({ on: true, brief }), { initialProps: { brief: at(1) } });
    rerender({ brief: at(2) });
    await rest();
    await act(() => result.current.drop());
    expect(asked.map((a) => a.method)).toEqual(["PUT", "DELETE"]);
    rerender({ brief: at(3) });
    await rest();
    expect(asked).toHaveLength(2);
  });
});
