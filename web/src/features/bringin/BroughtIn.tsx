import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Me, type TypeInfo } from "../../api/client";
import { anew, recordsAnew } from "../../api/keys";
import { count, moment } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";

/** What was brought in lately, which can be taken back. */
export function BroughtIn({ types, me }: { types: TypeInfo[]; me: Me }) {
  const client = useQueryClient();
  const list = useQuery({ queryKey: ["brought in"], queryFn: () => ask(api.GET("/api/brought-in")) });
  const undo = useMutation({
    mutationFn: (id: number) => ask(api.POST("/api/brought-in/{id}/undo", { params: { path: { id } } })),
    onSuccess: ({ left }) => {
      recordsAnew(client);
      toast(left ? `Taken back, but for ${count(left)} that were changed since.` : "Taken back.");
    },
    onError: tell,
    onSettled: () => anew(client, "brought in"),
  });
  if (list.error) return <Trouble error={list.error} />;
  if (!list.data?.length) return null;
  return (
    <section className="mt-8" aria-label="Brought in lately">
      <h2 className="title mb-2 text-[17px]">Brought in lately</h2>
      <ul className="sheet max-w-[900px]">
        {list.data.map((i) => (
          <li key={i.id} className="flex flex-wrap items-center gap-3 border-line border-b px-4 py-2 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-semibold">{i.file || "A file"}</span>
              <span className="block text-[13px] text-ink2">
                {types.find((t) => t.key === i.type)?.label ?? i.type} · {i.by}, {moment(i.at)}
              </span>
            </span>
            <span className="text-[13px] text-ink2">
              {count(i.made)} new · {count(i.changed)} changed · {count(i.refused)} refused
            </span>
            {i.undone ? (
              <span className="text-[13px] text-ink3">taken back</span>
            ) : i.by === me.name || me.role === "administrator" ? (
              <button type="button" className="btn" disabled={undo.isPending} onClick={() => undo.mutate(i.id)}>
                Take back
              </button>
            ) : null}
          </li>
        ))}
      </ul>
    </section>
  );
}
