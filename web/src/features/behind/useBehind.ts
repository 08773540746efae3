import { useCallback } from "react";
import { useLocation, useNavigate } from "react-router";

/**
 * What is opened behind a number, kept with the entry of the browser's history: Back closes it, Forward opens it again, a
 * reload keeps it. Another mark takes its place.
 */
export function useBehind<T>(name: string): { picked: T | undefined; open: (p: T) => void; close: () => void } {
  const at = useLocation();
  const go = useNavigate();
  const state = at.state as Record<string, unknown> | null;
  const picked = state?.[name] as T | undefined;
  // The address is the browser's: a draft may have written its name into it.
  const here = useCallback(() => ({ pathname: window.location.pathname, search: window.location.search }), []);
  const open = useCallback(
    (p: T) => go(here(), { state: { [name]: p }, replace: !!picked, preventScrollReset: true }),
    [go, here, name, picked],
  );
  const close = useCallback(() => go(-1), [go]);
  return { picked, open, close };
}
