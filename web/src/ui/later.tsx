import { type ComponentType, useEffect, useReducer, useState } from "react";

/**
 * A part whose code is loaded when it is first drawn, or before that by ready. Unlike a suspended one it is drawn as soon
 * as it is loaded: React holds back what follows a fallback for a third of a second. What cannot be loaded is thrown where
 * it is drawn, and asked for again the next time.
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>) {
  let part: ComponentType<P> | undefined;
  let coming: Promise<void> | undefined;
  const ready = () => {
    coming ??= load().then(
      (p) => {
        part = p;
      },
      (error) => {
        coming = undefined;
        throw error;
      },
    );
    return coming;
  };
  // biome-ignore lint/correctness/noComponentHookFactories: made once, where a module begins
  function Later(props: P) {
    const [error, setError] = useState<unknown>();
    const [, again] = useReducer((n: number) => n + 1, 0);
    useEffect(() => {
      if (!part) ready().then(again, setError);
    }, []);
    if (error) throw error;
    const Part = part;
    return Part ? <Part {...props} /> : null;
  }
  return Object.assign(Later, { ready, isReady: () => part !== undefined });
}
