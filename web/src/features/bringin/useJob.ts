import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useDo } from "../../ui/useDo";

/** Brings a file in on the server, which goes on by itself, and follows how far it is. */
export function useJob(file: string, done: (o: Schemas["OutcomeBody"]) => void) {
  const path = { params: { path: { id: file } } };
  const client = useQueryClient();
  const [under, setUnder] = useState(false);
  const key = ["bring-in progress", file] as const;
  const now = useQuery({
    queryKey: key,
    enabled: under,
    gcTime: 0,
    refetchInterval: 400,
    queryFn: () => ask(api.GET("/api/bring-in/{id}/progress", path)),
  }).data;
  const [start] = useDo(
    (plan: Schemas["BringPlan"]) => ask(api.POST("/api/bring-in/{id}/do", { ...path, body: plan })),
    () => {
      client.removeQueries({ queryKey: key });
      setUnder(true);
    },
  );
  const [stop] = useDo(() => ask(api.DELETE("/api/bring-in/{id}/progress", path)));
  const told = useRef(done);
  told.current = done;
  useEffect(() => {
    if (!under || !now || now.phase === "checking" || now.phase === "writing") return;
    setUnder(false);
    if (now.outcome) told.current(now.outcome);
    else toast(now.phase === "stopped" ? "Stopped. Nothing of it was written." : (now.why ?? "It failed."));
  }, [under, now]);
  return { under, now, start, stop: () => stop() };
}
