import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";

/** Brings a file in on the server, which goes on by itself, and follows how far it is. */
export function useJob(file: string, done: (o: Schemas["OutcomeBody"]) => void) {
  const path = { params: { path: { id: file } } };
  const client = useQueryClient();
  const [under, setUnder] = useState(false);
  const key = ["bring-in progress", file] as const;
  const progress = useQuery({
    queryKey: key,
    enabled: under,
    gcTime: 0,
    refetchInterval: 400,
    retry: 2,
    queryFn: () => ask(api.GET("/api/bring-in/{id}/progress", path)),
  });
  const now = progress.data;
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
  // The server was started anew, which ends what is not written whole.
  useEffect(() => {
    if (!under || !progress.error) return;
    setUnder(false);
    tell(progress.error);
  }, [under, progress.error]);
  useEffect(() => {
    if (!under || !now || now.phase === "checking" || now.phase === "writing") return;
    setUnder(false);
    if (now.outcome) told.current(now.outcome);
    else toast(now.phase === "stopped" ? "Stopped. Nothing of it was written." : (now.why ?? "It failed."));
  }, [under, now]);
  return { under, now, start, stop: () => stop() };
}
