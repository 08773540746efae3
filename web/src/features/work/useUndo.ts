import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { toast } from "sonner";
import { recordsAnew } from "../../api/keys";
import { tell } from "../../ui/tell";

/** Those that hear Ctrl+Z, of which only the one that came last does: a drawer's before its page's. */
const hearing: object[] = [];

type Step = { words: string; back: () => Promise<string | undefined> };

/** What was done in a list and can be taken back, the last one first: by its message, and by Ctrl+Z. */
export function useUndo() {
  const client = useQueryClient();
  const done = useRef<Step[]>([]);
  const undo = useCallback(
    async (which?: Step) => {
      const step = which ?? done.current.at(-1);
      if (!step || !done.current.includes(step)) return;
      done.current = done.current.filter((s) => s !== step);
      try {
        const note = await step.back();
        recordsAnew(client);
        toast(`Taken back: ${step.words}${note ? `. ${note}` : ""}`);
      } catch (e) {
        tell(e as Error);
      }
    },
    [client],
  );
  useEffect(() => {
    const me = {};
    hearing.push(me);
    const key = (e: KeyboardEvent) => {
      if (hearing.at(-1) !== me) return;
      if (!(e.ctrlKey || e.metaKey) || e.shiftKey || e.key.toLowerCase() !== "z") return;
      if ((e.target as HTMLElement).closest?.("input:not([type=checkbox]),textarea,select,[role=dialog]")) return;
      // What is being laid out has steps of its own.
      if (document.querySelector("[data-steps]")) return;
      e.preventDefault();
      void undo();
    };
    window.addEventListener("keydown", key);
    return () => {
      hearing.splice(hearing.indexOf(me), 1);
      window.removeEventListener("keydown", key);
    };
  }, [undo]);
  /** Notes something that was done, and says so. */
  return useCallback(
    (step: Step) => {
      done.current = [...done.current.slice(-99), step];
      recordsAnew(client);
      toast(step.words, { action: { label: "Undo", onClick: () => void undo(step) } });
    },
    [client, undo],
  );
}
