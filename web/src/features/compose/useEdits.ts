import { useCallback, useEffect, useState } from "react";
import type { Brief } from "../../api/client";

/** The brief being edited, with every step before it and those undone. Ctrl+Z and Ctrl+Shift+Z go through them. */
export function useEdits(first: Brief) {
  const [state, setState] = useState<{ past: Brief[]; now: Brief; next: Brief[] }>({ past: [], now: first, next: [] });
  const set = useCallback((b: Brief) => {
    setState((s) => (JSON.stringify(s.now) === JSON.stringify(b) ? s : { past: [...s.past.slice(-199), s.now], now: b, next: [] }));
  }, []);
  const undo = useCallback(() => {
    setState((s) => (s.past.length ? { past: s.past.slice(0, -1), now: s.past[s.past.length - 1], next: [s.now, ...s.next] } : s));
  }, []);
  const redo = useCallback(() => {
    setState((s) => (s.next.length ? { past: [...s.past, s.now], now: s.next[0], next: s.next.slice(1) } : s));
  }, []);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && e.target.matches("input, textarea, select, [contenteditable]");
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
  return { brief: state.now, set, undo, redo, canUndo: state.past.length > 0, canRedo: state.next.length > 0 };
}
