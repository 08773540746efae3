import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { count } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { tell } from "../../ui/tell";
import { ChoicesDialog } from "./ChoicesDialog";
import { NewFieldDialog } from "./NewFieldDialog";

type Field = Schemas["ShapedField"];

const kinds: Record<string, string> = {
  text: "text",
  number: "number",
  money: "money",
  percent: "percent",
  date: "date",
  yesno: "yes or no",
  choice: "one of its choices",
};

/** How records are shaped: stages, choices, and fields of one's own. */
export function ShapePage() {
  const me = useMe().data;
  const schema = useSchema();
  const client = useQueryClient();
  const [type, setType] = useState("deals");
  const [editing, setEditing] = useState<Field>();
  const [adding, setAdding] = useState(false);
  const shape = useQuery({
    queryKey: ["shape", type],
    enabled: me?.role === "administrator",
    queryFn: () => ask(api.GET("/api/shape/{type}", { params: { path: { type } } })),
  });
  const done = () => {
    void client.invalidateQueries();
    setEditing(undefined);
    setAdding(false);
  };
  const drop = useMutation({
    mutationFn: (f: Field) =>
      ask(
        api.DELETE("/api/shape/{type}/fields/{field}", {
          params: { path: { type, field: f.key }, query: { version: shape.data?.version } },
        }),
      ),
    onSuccess: () => toast("Taken away, with its values."),
    onError: tell,
    onSettled: done,
  });
  if (!me || !schema) return null;
  if (me.role !== "administrator")
    return <Empty title="Records are shaped by administrators">Ask one of them for a change.</Empty>;
  const types = schema.types.filter((t) => t.written);
  const fields = shape.data?.fields ?? [];
  return (
    <>
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Fields and choices</h1>
        <button type="button" className="btn btn-main" disabled={!shape.data} onClick={() => setAdding(true)}>
          New field
        </button>
      </div>
      <p className="mb-3 max-w-[70ch] text-ink2">
        What is called otherwise here is called so everywhere: in records, their history, reports and dashboards.
      </p>
      <div className="relative mb-4 max-w-full overflow-x-auto">
        <Seg label="Records" value={type} options={types.map((t) => [t.key, t.label])} onChange={setType} />
      </div>
      <Trouble error={shape.error} />
      <ul className="sheet max-w-[860px]" aria-label="Fields">
        {fields.map((f) => (
          <li key={f.key} className="flex flex-wrap items-center gap-3 border-line border-b px-4 py-2 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="block font-semibold">
                {f.label}
                {f.added && <span className="ml-2 rounded bg-amber-soft px-1.5 py-0.5 text-xs">your own</span>}
              </span>
              <span className="block truncate text-[13px] text-ink2">
                {f.kind === "choice"
                  ? f.choices.map((c) => `${c.name} (${count(c.uses ?? 0)})`).join(" · ") || "no choices yet"
                  : kinds[f.kind]}
              </span>
            </span>
            {f.kind === "choice" && (
              <button type="button" className="btn" onClick={() => setEditing(f)}>
                {f.stages ? "Change stages" : "Change choices"}
                <span className="sr-only"> of {f.label}</span>
              </button>
            )}
            {f.added && (
              <button type="button" className="btn btn-quiet" disabled={drop.isPending} onClick={() => drop.mutate(f)}>
                Take away<span className="sr-only"> {f.label}</span>
              </button>
            )}
          </li>
        ))}
        {shape.data && fields.length === 0 && (
          <li className="px-4 py-3 text-ink2">No choices, and no field of yours.</li>
        )}
      </ul>
      {editing && shape.data && (
        <ChoicesDialog
          type={type}
          field={editing}
          stages={shape.data.stages}
          version={shape.data.version}
          onClose={() => setEditing(undefined)}
          onDone={done}
        />
      )}
      {adding && shape.data && (
        <NewFieldDialog type={type} version={shape.data.version} onClose={() => setAdding(false)} onDone={done} />
      )}
    </>
  );
}
