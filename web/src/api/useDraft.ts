import { useCallback, useEffect, useRef, useState } from "react";
import { Refused } from "./client";

type Draft = { revision: number; changed: number };

/**
 * Keeps a draft of what is being made on the server, a moment after each change. Where another window changes the same
 * draft, nothing is overwritten: it says so and stops.
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
  put: (value: unknown, was: D | undefined) => Promise<D>;
  remove: (was: D) => Promise<unknown>;
  onMade?: (d: D) => void;
}) {
  const draft = useRef<D | undefined>(first);
  const [savedAt, setSavedAt] = useState<number | undefined>(first?.changed);
  const [saved, setSaved] = useState<string>();
  const [trouble, setTrouble] = useState<Refused>();
  const saving = useRef<Promise<void>>(Promise.resolve());
  const stopped = useRef(false);
  const text = JSON.stringify(value);
  const kept = useRef(text);
  const acts = useRef({ put, remove, onMade });
  acts.current = { put, remove, onMade };

  useEffect(() => {
    if (!on || stopped.current || text === kept.current) return;
    const timer = setTimeout(() => {
      saving.current = saving.current.then(async () => {
        if (stopped.current) return;
        try {
          const next = await acts.current.put(JSON.parse(text), draft.current);
          const made = !draft.current;
          draft.current = next;
          kept.current = text;
          setSavedAt(next.changed);
          setSaved(text);
          if (made) acts.current.onMade?.(next);
        } catch (e) {
          if (e instanceof Refused && e.status === 409) {
            stopped.current = true;
            setTrouble(e);
          }
        }
      });
    }, 600);
    return () => clearTimeout(timer);
  }, [on, text]);

  /** Throws the draft away, for what was made is kept or given up; nothing is saved after that. */
  const drop = useCallback(async () => {
    stopped.current = true;
    await saving.current;
    if (draft.current) await acts.current.remove(draft.current).catch(() => undefined);
    draft.current = undefined;
  }, []);
  return { savedAt, upToDate: saved === text, trouble, drop };
}
