import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { useMe, useReports } from "../../api/hooks";
import { anew } from "../../api/keys";
import { startOf } from "../../brief/edits";
import { moment } from "../../ui/figures";
import { useDo } from "../../ui/useDo";

/** Work that was begun and not saved yet. */
export function Drafts() {
  const me = useMe().data;
  const client = useQueryClient();
  const reports = useReports().data ?? [];
  const drafts = useQuery({
    queryKey: ["drafts"],
    queryFn: () => ask(api.GET("/api/drafts")),
    enabled: !!me?.mayKeep,
    staleTime: 0,
  });
  const [drop] = useDo(
    (id: number) => ask(api.DELETE("/api/drafts/{id}", { params: { path: { id } } })),
    () => anew(client, "drafts"),
  );
  if (!drafts.data?.length) return null;
  return (
    <section aria-label="Not saved yet" className="sheet mb-3 border-l-4 border-l-[var(--amber)]">
      <h2 className="title px-3 pt-2 text-[15px]">Not saved yet</h2>
      <ul>
        {drafts.data.map((d) => {
          const report = reports.find((r) => r.id === d.report);
          const start = startOf(d.brief) || "deals";
          return (
            <li key={d.id} className="flex gap-3 border-line border-b px-3 py-1.5 last:border-0">
              <Link
                className="link min-w-0 flex-1 truncate"
                to={d.report ? `/reports/${d.report}/edit` : `/reports/new/${start}?draft=${d.id}`}
              >
                {report ? `${report.title}: changed` : d.title || "A new report"}
              </Link>
              <span className="text-ink2 text-xs">{moment(d.changed)}</span>
              <button type="button" className="text-ink2 text-xs hover:underline" onClick={() => drop(d.id)}>
                Throw away
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
