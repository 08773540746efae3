import { useEffect, useReducer } from "react";

/** Whether two things are the same when they are written down. */
export const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

export type Steps<T> = { past: T[]; now: T; next: T[] };

/** What can be done with what is being edited. */
export type Step<T> =
  | { do: "set"; now: T } // a step: what was before can be gone back to
  | { do: "settle"; now: T } // in place of what is there now, which is no step of its own
  | { do: "undo" }
  | { do: "redo" };

/** How many steps can be gone back. */
const most = 200;

/** What is being edited after one step more. What changes nothing is no step. */
export function steps<T>(s: Steps<T>, step: Step<T>): Steps<T> {
  switch (step.do) {
    case "set":
      return same(s.now, step.now) ? s : { past: [...s.past.slice(1 - most), s.now], now: step.now, next: [] };
    case "settle":
      return same(s.now, step.now) ? s : { ...s, now: step.now };
    case "undo":
      return s.past.length
        ? { past: s.past.slice(0, -1), now: s.past[s.past.length - 1], next: [s.now, ...s.next] }
        : s;
    case "redo":
      return s.next.length ? { past: [...s.past, s.now], now: s.next[0], next: s.next.slice(1) } : s;
  }
}

/** What is being edited, with every step before it and those undone. Ctrl+Z and Ctrl+Shift+Z go through them. */
export function useSteps<T>(first: T) {
  const [state, dispatch] = useReducer(steps<T>, { past: [], now: first, next: [] });
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
      if (k === "z" && !e.shiftKey) dispatch({ do: "undo" });
      else if ((k === "z" && e.shiftKey) || k === "y") dispatch({ do: "redo" });
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  return { now: state.now, dispatch, canUndo: state.past.length > 0, canRedo: state.next.length > 0 };
}
