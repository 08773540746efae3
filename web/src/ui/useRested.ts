import { useEffect, useState } from "react";

/** A value that has not changed for a moment: what the server is asked about while it is dragged or typed. */
export function useRested<T>(value: T, ms = 150): T {
  const [rested, setRested] = useState(value);
  const text = JSON.stringify(value);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is the same value where it reads the same
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [text]);
  return rested;
}
