import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useSubjects } from "../../api/hooks";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { SightOptions } from "./SightOptions";

type Exception = Schemas["ExceptionBody"];

/** Who sees other records than people do in general: what is said of a person goes before what is said of a team. */
export function Exceptions({ types }: { types: Schemas["SeesBody"][] }) {
  const client = useQueryClient();
  const subjects = useSubjects();
  const now = useQuery({
    queryKey: ["exceptions"],
    queryFn: () => ask(api.GET("/api/settings/exceptions")),
  });
  const [changed, setChanged] = useState<Exception[]>();
  const [save, busy] = useDo(
    (exceptions: Exception[]) =>
      ask(api.PUT("/api/settings/exceptions", { body: { exceptions, version: now.data?.version } })),
    () => {
      toast("Saved. It holds for every question from now on.");
      setChanged(undefined);
      void client.invalidateQueries();
    },
  );
  if (!now.data) return <Trouble error={now.error} />;
  const list = changed ?? now.data.exceptions;
  const put = (i: number, to: Partial<Exception>) => setChanged(list.map((e, k) => (k === i ? { ...e, ...to } : e)));
  const first = subjects.find((s) => s.kind === "team") ?? subjects[0];
  return (
    <div className="mt-3 max-w-[760px]">
      <ul aria-label="Exceptions">
        {list.map((e, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: an exception is its place in the list
          <li key={i} className="mb-1.5 flex flex-wrap items-center gap-2">
            <select
              className="input !w-52"
              aria-label={`Who, exception ${i + 1}`}
              value={`${e.kind} ${e.subject}`}
              onChange={(x) => {
                const [kind, id] = x.target.value.split(" ");
                put(i, { kind: kind as Exception["kind"], subject: Number(id) });
              }}
            >
              {subjects.map((s) => (
                <option key={`${s.kind} ${s.id}`} value={`${s.kind} ${s.id}`}>
                  {s.name} {s.kind === "team" ? "(team)" : ""}
                </option>
              ))}
            </select>
            see of
            <select
              className="input !w-40"
              aria-label={`Of which records, exception ${i + 1}`}
              value={e.type}
              onChange={(x) => put(i, { type: x.target.value })}
            >
              {types.map((t) => (
                <option key={t.type} value={t.type}>
                  {t.label.toLowerCase()}
                </option>
              ))}
            </select>
            <select
              className="input !w-40"
              aria-label={`Which, exception ${i + 1}`}
              value={e.how}
              onChange={(x) => put(i, { how: x.target.value })}
            >
              <SightOptions />
            </select>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              aria-label={`Take exception ${i + 1} away`}
              onClick={() => setChanged(list.filter((_, k) => k !== i))}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <p className="flex gap-2">
        <button
          type="button"
          className="btn"
          disabled={!first || !types.length}
          onClick={() =>
            first && setChanged([...list, { type: types[0].type, kind: first.kind, subject: first.id, how: "" }])
          }
        >
          An exception for a team or person
        </button>
        {changed && (
          <>
            <button type="button" className="btn btn-main" disabled={busy} onClick={() => save(changed)}>
              Save exceptions
            </button>
            <button type="button" className="btn btn-quiet" onClick={() => setChanged(undefined)}>
              As they were
            </button>
          </>
        )}
      </p>
    </div>
  );
}
