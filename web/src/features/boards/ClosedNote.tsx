import { useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Board } from "../../api/client";
import { anew } from "../../api/keys";
import { useDo } from "../../ui/useDo";

/** Says which reports of a dashboard some of its readers cannot open, and puts them where they can. */
export function ClosedNote({ board }: { board: Board }) {
  const client = useQueryClient();
  const at = { params: { path: { id: board.id } } };
  const key = ["closed", board.id, board.version] as const;
  const closed =
    useQuery({ queryKey: key, queryFn: () => ask(api.GET("/api/boards/{id}/closed", at)), enabled: board.mayChange })
      .data ?? [];
  const [open] = useDo(
    () => ask(api.POST("/api/boards/{id}/open-reports", at)),
    (left) => {
      client.setQueryData(key, left);
      anew(client, "find", "reports");
      toast(
        left?.length ? "Some stay closed, being others’" : "Everyone who opens this dashboard can read all of it now",
      );
    },
  );
  if (closed.length === 0) return null;
  const people = new Set(closed.flatMap((c) => c.to ?? []));
  const named = closed.map((c) => (c.title ? `“${c.title}”` : "one that you may not open either")).join(", ");
  return (
    <div
      role="note"
      className="notice mb-2 flex flex-wrap items-center gap-x-3 rounded border border-amber bg-amber-soft px-3 py-1.5 text-[13px]"
    >
      <span className="min-w-0 flex-1" title={[...people].join(", ")}>
        {people.size === 1 ? [...people][0] : `${people.size} people`} may open this dashboard, but cannot read {named}.
      </span>
      {closed.some((c) => c.mayMove) && (
        <button type="button" className="link shrink-0" onClick={() => open()}>
          Put {closed.length === 1 ? "it" : "them"} into the dashboard’s folder
        </button>
      )}
    </div>
  );
}
