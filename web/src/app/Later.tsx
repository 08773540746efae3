import { type ComponentType, useEffect, useReducer, useState } from "react";

/** How a page's code is loaded. */
export type Load = () => Promise<ComponentType>;

const loaded = new Map<Load, ComponentType>();

/**
 * A page whose code is loaded when it is first opened. Unlike a suspended one it stands there as soon as it is loaded:
 * React holds back what follows a fallback for a third of a second. What cannot be loaded is thrown where it is drawn.
 */
export function Later({ load }: { load: Load }) {
  const [error, setError] = useState<unknown>();
  const [, again] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (loaded.has(load)) return;
    load().then((page) => {
      loaded.set(load, page);
      again();
    }, setError);
  }, [load]);
  if (error) throw error;
  const Page = loaded.get(load);
  return Page ? <Page /> : null;
}
