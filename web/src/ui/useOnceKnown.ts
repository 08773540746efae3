import { useEffect, useState } from "react";

/** Whether a question has its own answer, or its own failure: not the answer to the one before, which stands meanwhile. */
export const isHeard = (q: { isPending: boolean; isPlaceholderData: boolean }) => !q.isPending && !q.isPlaceholderData;

/**
 * Enter before the answer is there: what is asked for is done once it is known what it is about, at once where that is
 * known already. drop takes it back, as another letter does.
 */
export function useOnceKnown(known: boolean, act: () => void): { waits: boolean; ask: () => void; drop: () => void } {
  const [waits, setWaits] = useState(false);
  useEffect(() => {
    if (!waits || !known) return;
    setWaits(false);
    act();
  }, [waits, known, act]);
  return { waits, ask: () => setWaits(true), drop: () => setWaits(false) };
}
