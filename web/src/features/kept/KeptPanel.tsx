import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { Chart } from "../../chart/Chart";
import { isFigure } from "../../chart/kinds";
import { KeptLines } from "./KeptLines";

/** A kept result on a dashboard of one's own. */
export function KeptPanel({ id, heading, handle }: { id: number; heading?: string; handle?: React.ReactNode }) {
  const kept = useQuery({
    queryKey: ["kept", id],
    queryFn: () => ask(api.GET("/api/kept/{id}", { params: { path: { id } } })),
    retry: false,
  });
  const k = kept.data;
  const title = heading || k?.name;
  return (
    <article className="sheet flex h-full min-h-0 flex-col p-3.5" aria-label={title ?? "Kept result"}>
      <div className="flex items-start gap-2">
        <h2 className="title mr-auto min-w-0 truncate text-[15px]">
          <Link to={`/kept/${id}`} className="hover:underline">
            {title ?? (kept.error ? "Missing" : "…")}
          </Link>
        </h2>
        {k && !handle && (
          <Link className="link shrink-0 text-[13px]" to={`/kept/${id}?show=against`}>
            Beside today
          </Link>
        )}
        {handle}
      </div>
      {kept.error && <p className="py-4 text-ink2">What stood here was deleted, or somebody else kept it.</p>}
      {k && (
        <>
          <p className="mb-1 text-xs">
            <span className="rounded-[3px] bg-amber-soft px-1 font-semibold">As it was on {k.when}</span>{" "}
            <span className="text-ink2">{k.days}</span>
          </p>
          <div className="min-h-0 flex-1 overflow-auto">
            {k.drawing.kind !== "table" && (k.groups.length > 0 || isFigure(k.drawing.kind)) ? (
              <Chart drawing={k.drawing} height="100%" />
            ) : (
              <KeptLines
                name={k.name}
                groups={k.groups}
                heads={k.summaries}
                lines={k.lines}
                cells={(l) => l.values.map((v) => v || "–")}
              />
            )}
          </div>
        </>
      )}
    </article>
  );
}
