import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../../api/client";
import { useDo } from "../../ui/useDo";

/** Follows a record: what others do about it is told on Home. */
export function FollowButton({ type, id }: { type: string; id: string }) {
  const client = useQueryClient();
  const at = { params: { path: { type, id: Number(id) } } };
  const key = ["follows", type, id] as const;
  const on = useQuery({ queryKey: key, queryFn: () => ask(api.GET("/api/follows/{type}/{id}", at)) }).data?.on;
  const [set] = useDo(
    (to: boolean) => ask(api.PUT("/api/follows/{type}/{id}", { ...at, body: { on: to } })),
    () => void client.invalidateQueries({ queryKey: key }),
  );
  if (on === undefined) return null;
  return (
    <button
      type="button"
      className="btn btn-quiet"
      aria-pressed={on}
      title="What others do about what you follow is told on Home"
      onClick={() => set(!on)}
    >
      {on ? "Followed" : "Follow"}
    </button>
  );
}
