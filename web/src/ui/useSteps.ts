import { useCallback, useEffect, useState } from "react";

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What is being edited, with every step before it and those undone. Ctrl+Z and Ctrl+Shift+Z go through them. */
export function useSteps<T>(first: T) {
  const [state, setState] = useState<{ past: T[]; now: T; next: T[] }>({ past: [], now: first, next: [] });
  const set = useCallback((now: T) => {
    setState((s) => (same(s.now, now) ? s : { past: [...s.past.slice(-199), s.now], now, next: [] }));
  }, []);
  /** Puts something in place of what is there now, which is no step of its own. */
  const settle = useCallback((now: T) => setState((s) => (same(s.now, now) ? s : { ...s, now })), []);
  const begin = useCallback((now: T) => setState({ past: [], now, next: [] }), []);
  const undo = useCallback(() => {
    setState((s) => (s.past.length ? { past: s.past.slice(0, -1), now: s.past[s.past.length - 1], next: [s.now, ...s.next] } : s));
  }, []);
  const redo = useCallback(() => {
    setState((s) => (s.next.length ? { past: [...s.past, s.now], now: s.next[0], next: s.next.slice(1) } : s));
  }, []);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      // Where one types, the browser takes steps back in what is typed; a list or a tick has no steps of its own.
      const typing =
        e.target instanceof HTMLElement &&
        e.target.matches(
          "input:not([type=checkbox], [type=radio], [type=range], [type=color], [type=button]), textarea, [contenteditable]",
        );
      if (!(e.ctrlKey || e.metaKey) || typing) return;
      const k = e.key.toLowerCase();
      if (k === "z" && !e.shiftKey) undo();
      else if ((k === "z" && e.shiftKey) || k === "y") redo();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [undo, redo]);
  return { now: state.now, set, settle, begin, undo, redo, canUndo: state.past.length > 0, canRedo: state.next.length > 0 };
}
