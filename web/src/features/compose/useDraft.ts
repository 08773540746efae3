import { useCallback, useEffect, useRef, useState } from "react";
import { api, ask, type Brief, Refused, type Schemas } from "../../api/client";

type Draft = Schemas["DraftBody"];

/**
 * Keeps a draft of what is being composed on the server, a moment after each change. Where another window changes the
 * same draft, nothing is overwritten: it says so and stops.
 */
export function useDraft({
  on,
  brief,
  first,
  report,
  version,
  onMade,
}: {
  on: boolean;
  brief: Brief;
  first?: Draft;
  report?: number;
  version?: number;
  onMade?: (d: Draft) => void;
}) {
  const draft = useRef<Draft | undefined>(first);
  const [savedAt, setSavedAt] = useState<number | undefined>(first?.changed);
  const [trouble, setTrouble] = useState<Refused>();
  const saving = useRef<Promise<void>>(Promise.resolve());
  const stopped = useRef(false);
  const text = JSON.stringify(brief);
  const kept = useRef(text);

  useEffect(() => {
    if (!on || stopped.current || text === kept.current) return;
    const timer = setTimeout(() => {
      saving.current = saving.current.then(async () => {
        if (stopped.current) return;
        try {
          const d = draft.current;
          const next = await ask(
            api.PUT("/api/drafts", {
              body: {
                ...(d ? { id: d.id, revision: d.revision } : {}),
                ...(report ? { report, version } : {}),
                brief: JSON.parse(text),
              },
            }),
          );
          const made = !draft.current;
          draft.current = next;
          kept.current = text;
          setSavedAt(next.changed);
          if (made) onMade?.(next);
        } catch (e) {
          if (e instanceof Refused && e.status === 409) {
            stopped.current = true;
            setTrouble(e);
          }
        }
      });
    }, 600);
    return () => clearTimeout(timer);
  }, [on, text, report, version, onMade]);

  const drop = useCallback(async () => {
    stopped.current = true;
    await saving.current;
    if (draft.current) await ask(api.DELETE("/api/drafts/{id}", { params: { path: { id: draft.current.id } } })).catch(() => undefined);
    draft.current = undefined;
  }, []);
  return { savedAt, trouble, drop };
}
