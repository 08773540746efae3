import { useCallback, useEffect, useRef, useState } from "react";
import { Refused } from "./client";

type Draft = { revision: number; changed: number };

/** How long after a change it is kept, and after a failure tried again, each failure longer. */
const soon = 600;
const again = [1000, 3000, 8000, 20000];

/**
 * Keeps a draft of what is being made on the server, a moment after each change, and at once when the page is left. What
 * could not be kept is said and tried again. Where another window changes the same draft, nothing is overwritten: it says so
 * and stops.
 */
export function useDraft<D extends Draft>({
  on,
  value,
  first,
  put,
  remove,
  onMade,
}: {
  on: boolean;
  /** What is being made, as JSON. */
  value: unknown;
  first?: D;
  /** Keeps it; leaving is set where the page may be gone before the answer comes. */
  put: (value: unknown, was: D | undefined, leaving: boolean) => Promise<D>;
  remove: (was: D) => Promise<unknown>;
  onMade?: (d: D) => void;
}) {
  const draft = useRef<D | undefined>(first);
  const [savedAt, setSavedAt] = useState<number | undefined>(first?.changed);
  const [saved, setSaved] = useState<string>();
  const [trouble, setTrouble] = useState<Refused>();
  const [failed, setFailed] = useState(0);
  const saving = useRef<Promise<void>>(Promise.resolve());
  const stopped = useRef(false);
  const there = useRef(true);
  const text = JSON.stringify(value);
  const kept = useRef(text);
  const now = useRef({ on, text });
  now.current = { on, text };
  const acts = useRef({ put, remove, onMade });
  acts.current = { put, remove, onMade };

  /** Keeps what there is now, after what is being kept already. */
  const keep = useCallback((leaving: boolean) => {
    saving.current = saving.current.then(async () => {
      const { on, text } = now.current;
      if (!on || stopped.current || text === kept.current) return;
      try {
        const next = await acts.current.put(JSON.parse(text), draft.current, leaving);
        const made = !draft.current;
        draft.current = next;
        kept.current = text;
        if (!there.current) return;
        setSavedAt(next.changed);
        setSaved(text);
        setFailed(0);
        setTrouble(undefined);
        if (made) acts.current.onMade?.(next);
      } catch (e) {
        if (!there.current) return;
        const refused =
          e instanceof Refused ? e : new Refused(0, { title: "Not kept", status: 0, detail: "It could not be sent." });
        if (refused.status === 409) {
          stopped.current = true;
          setTrouble(refused);
          return;
        }
        setTrouble(
          new Refused(refused.status, {
            ...refused.problem,
            title: "Your latest changes are not saved yet",
            detail: `${refused.message} They are here, in this window, and are tried again by themselves.`,
          }),
        );
        setFailed((n) => n + 1);
      }
    });
    return saving.current;
  }, []);

  useEffect(() => {
    if (!on || stopped.current || text === kept.current) return;
    const timer = setTimeout(() => void keep(false), failed ? again[Math.min(failed, again.length) - 1] : soon);
    return () => clearTimeout(timer);
  }, [on, text, failed, keep]);

  // Whoever leaves within that moment loses nothing: another page of ours, another address, a closed window.
  useEffect(() => {
    there.current = true;
    const leave = () => void keep(true);
    const hide = () => document.visibilityState === "hidden" && leave();
    window.addEventListener("pagehide", leave);
    document.addEventListener("visibilitychange", hide);
    return () => {
      window.removeEventListener("pagehide", leave);
      document.removeEventListener("visibilitychange", hide);
      there.current = false;
      leave();
    };
  }, [keep]);

  /** Throws the draft away, for what was made is kept or given up; nothing is saved after that. */
  const drop = useCallback(async () => {
    stopped.current = true;
    await saving.current;
    if (draft.current) await acts.current.remove(draft.current).catch(() => undefined);
    draft.current = undefined;
  }, []);
  return { savedAt, upToDate: saved === text, trouble, drop };
}
