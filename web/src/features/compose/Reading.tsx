import { useQuery } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";

/** What has changed for one reading, and the way back; both stay in view. */
export function Reading({ was, now, onReset }: { was: Brief; now: Brief; onReset?: () => void }) {
  const changes = useQuery({
    queryKey: ["difference", was, now],
    queryFn: () => ask(api.POST("/api/difference", { body: { was, now } })),
  }).data;
  return (
    <p role="status" className="reading">
      <span className="min-w-0 flex-1 truncate" title={changes?.join("; ")}>
        <strong>Changed for this reading{changes?.length ? ":" : ""}</strong> {changes?.join("; ")}
      </span>
      <button type="button" className="link shrink-0" onClick={onReset}>
        back to as saved
      </button>
    </p>
  );
}
