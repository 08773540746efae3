import { useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { may, useBoards, useMe, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";

/** Which dashboard each team sees first after signing in. */
export function HomeSettings() {
  const client = useQueryClient();
  const boards = useBoards().data ?? [];
  const me = useMe().data;
  const all = may(me, "lay_out");
  // Who leads a team sets where that begins, and nothing else.
  const teams = useSubjects().filter((s) => s.kind === "team" && (all || s.name === me?.team));
  const homes = useQuery({ queryKey: ["homes"], queryFn: () => ask(api.GET("/api/settings/homes")) }).data;
  const again = () => anew(client, "homes", "home");
  const [set] = useDo(
    ({ team, board }: { team: number; board: number }) =>
      ask(
        api.PUT("/api/settings/homes/{team}", { params: { path: { team } }, body: { board, version: homes?.version } }),
      ),
    () => {
      toast("Saved. It holds from the next sign-in.");
      again();
    },
    (e) => {
      tell(e);
      again();
    },
  );
  return (
    <div className="sheet max-w-[560px]">
      {[...(all ? [{ id: 0, name: "Everyone else" }] : []), ...teams.map((t) => ({ id: t.id, name: t.name }))].map(
        (t) => (
          <label key={t.id} className="flex items-center gap-3 border-line border-b px-4 py-2 last:border-0">
            <span className="mr-auto font-semibold">{t.name}</span>
            <select
              className="input !w-72"
              aria-label={`Where ${t.name} begins`}
              value={homes?.homes?.find((h) => h.team === t.id)?.board ?? 0}
              onChange={(e) => set({ team: t.id, board: Number(e.target.value) })}
            >
              <option value={0}>{t.id === 0 ? "Find" : "as everyone else"}</option>
              {boards.map((b) => (
                <option key={b.id} value={b.id}>
                  {b.title}
                </option>
              ))}
            </select>
          </label>
        ),
      )}
    </div>
  );
}
