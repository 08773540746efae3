import { useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Report } from "../../api/client";
import { anew } from "../../api/keys";
import { useDo } from "../../ui/useDo";

/** Where a report that one may change stands before people who cannot open it. */
export function useClosed(report?: Report) {
  const q = useQuery({
    queryKey: ["closed at", report?.id, report?.version],
    queryFn: () => ask(api.GET("/api/reports/{id}/closed", { params: { path: { id: report?.id as number } } })),
    enabled: !!report?.mayChange,
  });
  return q.data ?? [];
}

/** Says where a report stands before people who cannot open it, and puts it where they can. */
export function ClosedAt({ report }: { report: Report }) {
  const client = useQueryClient();
  const at = { params: { path: { id: report.id } } };
  const places = useClosed(report);
  const [move] = useDo(
    (to: { into: number; intoName: string }) =>
      ask(api.PUT("/api/reports/{id}/folder", { ...at, body: { folder: to.into } })),
    (r, to) => {
      client.setQueryData(["report", r.id], r);
      anew(client, "closed at", "closed", "find", "reports");
      toast(`Moved to “${to.intoName}”: everyone who comes there can read it now`);
    },
  );
  if (!places.length) return null;
  const people = new Set(places.flatMap((p) => p.to ?? []));
  const where = places.map((p) => (p.pages ? `the pages of ${p.title.toLowerCase()}` : `“${p.title}”`)).join(", ");
  const into = places.find((p) => p.into);
  return (
    <div
      role="note"
      className="notice my-2 flex flex-wrap items-center gap-x-3 rounded border border-amber bg-amber-soft px-3 py-1.5 text-[13px]"
    >
      <span className="min-w-0 flex-1" title={[...people].join(", ")}>
        It stands on {where}, where {people.size === 1 ? [...people][0] : `${people.size} people`} cannot read it: its
        folder is not open to {people.size === 1 ? "that person" : "them"}.
      </span>
      {into ? (
        <button
          type="button"
          className="link shrink-0"
          onClick={() => move({ into: into.into, intoName: into.intoName })}
        >
          Move it to “{into.intoName}”
        </button>
      ) : (
        <span className="text-ink2">There is no folder open to all of them that you may put it into.</span>
      )}
    </div>
  );
}
