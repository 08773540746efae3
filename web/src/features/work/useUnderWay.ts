import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../../api/client";

/**
 * Runs work on many records and follows how far it is while it goes on: its name goes with the request that begins it.
 * What is over within a moment is not asked about.
 */
export function useUnderWay() {
  const [name] = useState(() => crypto.randomUUID?.() ?? String(Math.random()).slice(2));
  const [busy, setBusy] = useState(false);
  const asked = useQuery({
    queryKey: ["work", name, busy],
    enabled: busy,
    gcTime: 0,
    retry: false,
    refetchInterval: 400,
    queryFn: () => ask(api.GET("/api/work/{name}", { params: { path: { name } } })).catch(() => null),
  });
  const run = <R>(send: (header: { Work: string }) => Promise<R>) => {
    setBusy(true);
    return send({ Work: name }).finally(() => setBusy(false));
  };
  return { run, busy, now: busy && asked.data && asked.data.of > 0 ? asked.data : undefined };
}
