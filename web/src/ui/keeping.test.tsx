import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { useDraft } from "../api/useDraft";
import { useSteps } from "./useSteps";

type Made = { limit: number };
const at = (limit: number): Made => ({ limit });

describe("undo and redo", () => {
  it("goes back and forth, and forgets what was undone when something else is done", () => {
    const { result } = renderHook(() => useSteps(at(1)));
    act(() => result.current.dispatch({ do: "set", now: at(2) }));
    act(() => result.current.dispatch({ do: "set", now: at(2) }));
    act(() => result.current.dispatch({ do: "set", now: at(3) }));
    act(() => result.current.dispatch({ do: "undo" }));
    expect(result.current.now.limit).toBe(2);
    act(() => result.current.dispatch({ do: "undo" }));
    expect([result.current.now.limit, result.current.canUndo, result.current.canRedo]).toEqual([1, false, true]);
    act(() => result.current.dispatch({ do: "undo" }));
    expect(result.current.now.limit).toBe(1);
    act(() => result.current.dispatch({ do: "redo" }));
    expect(result.current.now.limit).toBe(2);
    act(() => result.current.dispatch({ do: "set", now: at(9) }));
    expect(result.current.canRedo).toBe(false);
  });

  it("listens to the keys, but not while one types", () => {
    const { result } = renderHook(() => useSteps(at(1)));
    act(() => result.current.dispatch({ do: "set", now: at(2) }));
    const input = document.body.appendChild(document.createElement("input"));
    act(() => void input.dispatchEvent(new KeyboardEvent("keydown", { key: "z", ctrlKey: true, bubbles: true })));
    expect(result.current.now.limit).toBe(2);
    act(
      () => void document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "z", ctrlKey: true, bubbles: true })),
    );
    expect(result.current.now.limit).toBe(1);
    act(
      () =>
        void document.body.dispatchEvent(
          new KeyboardEvent("keydown", { key: "Z", ctrlKey: true, shiftKey: true, bubbles: true }),
        ),
    );
    expect(result.current.now.limit).toBe(2);
    input.remove();
  });

  it("listens while a list or a tick has the focus, which have no steps of their own", () => {
    const { result } = renderHook(() => useSteps(at(1)));
    const tick = Object.assign(document.createElement("input"), { type: "checkbox" });
    for (const one of [tick, document.createElement("select"), document.createElement("button")]) {
      act(() => result.current.dispatch({ do: "set", now: at(2) }));
      document.body.append(one);
      act(() => void one.dispatchEvent(new KeyboardEvent("keydown", { key: "z", ctrlKey: true, bubbles: true })));
      expect(result.current.now.limit, one.tagName).toBe(1);
      one.remove();
    }
  });

  it("takes what settles for no step of its own", () => {
    const { result } = renderHook(() => useSteps(at(1)));
    act(() => result.current.dispatch({ do: "set", now: at(2) }));
    act(() => result.current.dispatch({ do: "settle", now: at(5) }));
    expect(result.current.now.limit).toBe(5);
    act(() => result.current.dispatch({ do: "undo" }));
    expect(result.current.now.limit).toBe(1);
  });
});

describe("drafts", () => {
  type Draft = { id: number; revision: number; changed: number };
  /** A server that keeps one draft, or refuses. */
  const asked: { method: string; was?: Draft; value?: unknown }[] = [];
  let status = 200;
  const put = async (value: unknown, was: Draft | undefined, leaving: boolean) => {
    asked.push({ method: leaving ? "PUT on leaving" : "PUT", was, value });
    if (status !== 200) throw new Refused(status, { title: "Changed", detail: "in another window", status });
    return { id: 7, revision: asked.length, changed: 1 };
  };
  const remove = async (was: Draft) => void asked.push({ method: "DELETE", was });
  const draft = (onMade?: () => void) =>
    renderHook(({ value }) => useDraft({ on: true, value, put, remove, onMade }), { initialProps: { value: at(1) } });
  beforeEach(() => {
    asked.length = 0;
    status = 200;
    vi.useFakeTimers({ shouldAdvanceTime: true });
  });
  afterEach(() => void vi.useRealTimers());
  const rest = () => act(() => vi.advanceTimersByTimeAsync(900));

  it("keeps nothing until something changes, then each change once it rests, on the draft that was made", async () => {
    const made = vi.fn();
    const { result, rerender } = draft(made);
    await rest();
    expect(asked).toHaveLength(0);
    rerender({ value: at(2) });
    rerender({ value: at(3) });
    await rest();
    expect(asked.map((a) => [a.method, a.was, a.value])).toEqual([["PUT", undefined, at(3)]]);
    expect(made).toHaveBeenCalledTimes(1);
    rerender({ value: at(4) });
    await rest();
    expect([asked[1].was?.id, asked[1].was?.revision]).toEqual([7, 1]);
    expect(result.current.upToDate).toBe(true);
    rerender({ value: at(5) });
    expect(result.current.upToDate, "what has changed since is not saved yet").toBe(false);
    expect(made).toHaveBeenCalledTimes(1);
  });

  it("says so and stops where another window changed the draft", async () => {
    const { result, rerender } = draft();
    status = 409;
    rerender({ value: at(2) });
    await rest();
    expect(result.current.trouble?.message).toBe("in another window");
    status = 200;
    rerender({ value: at(3) });
    await rest();
    expect(asked).toHaveLength(1);
  });

  it("goes out at once where the page, or the window, is left within the moment", async () => {
    const { rerender, unmount } = draft();
    rerender({ value: at(2) });
    await act(async () => void window.dispatchEvent(new Event("pagehide")));
    rerender({ value: at(3) });
    unmount();
    await vi.advanceTimersByTimeAsync(0);
    expect(asked.map((a) => [a.method, a.value, a.was?.revision])).toEqual([
      ["PUT on leaving", at(2), undefined],
      ["PUT on leaving", at(3), 1],
    ]);
  });

  it("says that a change is not saved, tries again by itself, and then says nothing", async () => {
    const { result, rerender } = draft();
    status = 503;
    rerender({ value: at(2) });
    await rest();
    expect(result.current.trouble?.problem.title).toBe("Your latest changes are not saved yet");
    expect(result.current.upToDate).toBe(false);
    await act(() => vi.advanceTimersByTimeAsync(1100));
    expect(asked, "it was tried a second time").toHaveLength(2);
    status = 200;
    await act(() => vi.advanceTimersByTimeAsync(3100));
    expect(asked.at(-1)?.value).toEqual(at(2));
    expect([result.current.trouble, result.current.upToDate]).toEqual([undefined, true]);
    const before = asked.length;
    await act(() => vi.advanceTimersByTimeAsync(30_000));
    expect(asked).toHaveLength(before);
  });

  it("is thrown away when what was made is kept", async () => {
    const { result, rerender } = draft();
    rerender({ value: at(2) });
    await rest();
    await act(() => result.current.drop());
    expect(asked.map((a) => a.method)).toEqual(["PUT", "DELETE"]);
    rerender({ value: at(3) });
    await rest();
    expect(asked).toHaveLength(2);
  });
});
