import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { useDo } from "./useDo";

/** Whether one follows a report or a dashboard, asked for once it is wanted, and what turns that. */
export function useFollow(kind: "reports" | "boards", id: number | undefined, wanted: boolean) {
  const client = useQueryClient();
  const key = ["follows", kind, id] as const;
  const path = { params: { path: { id: id ?? 0 } } };
  const on = useQuery({
    queryKey: key,
    enabled: wanted && id !== undefined,
    queryFn: () =>
      ask(kind === "reports" ? api.GET("/api/reports/{id}/follow", path) : api.GET("/api/boards/{id}/follow", path)),
  }).data?.on;
  const [turn] = useDo(
    (to: boolean) =>
      ask(
        kind === "reports"
          ? api.PUT("/api/reports/{id}/follow", { ...path, body: { on: to } })
          : api.PUT("/api/boards/{id}/follow", { ...path, body: { on: to } }),
      ),
    () => void client.invalidateQueries({ queryKey: key }),
  );
  return { on, turn: () => turn(!on) };
}
