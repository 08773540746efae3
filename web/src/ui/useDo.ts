import { useMutation } from "@tanstack/react-query";
import { useRef } from "react";
import { tell } from "./tell";

/**
 * Changes something on the server where it is pressed for, with no form. While it is under way pressing for the same
 * again does nothing; what is refused is told in passing, unless refused says otherwise.
 */
export function useDo<V = void, R = unknown>(
  send: (what: V) => Promise<R>,
  done?: (result: R, what: V) => void,
  refused: (e: Error) => void = tell,
): [run: (what: V) => void, busy: boolean] {
  // The state of a mutation is known only after the next render, which a held key does not wait for.
  const under = useRef(new Set<string>());
  const named = (what: V) => JSON.stringify(what) ?? "";
  const { mutate, isPending } = useMutation({
    mutationFn: send,
    onSuccess: (result, what) => done?.(result, what),
    onError: refused,
    onSettled: (_result, _error, what) => {
      under.current.delete(named(what));
    },
  });
  const run = (what: V) => {
    if (under.current.has(named(what))) return;
    under.current.add(named(what));
    mutate(what);
  };
  return [run, isPending];
}
