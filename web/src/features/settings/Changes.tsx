import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { moment } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { useRested } from "../../ui/useRested";

type Change = Schemas["ChangeBody"];

/** What was changed in the settings, by whom, from what to what; each can be taken back as long as it is the last of its kind. */
export function Changes() {
  const client = useQueryClient();
  const [search, setSearch] = useState("");
  const [before, setBefore] = useState<number[]>([]);
  const rested = useRested(search);
  const list = useQuery({
    queryKey: ["setting changes", rested, before.at(-1)],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET("/api/settings/changes", { params: { query: { search: rested, before: before.at(-1) } } })),
  });
  const [back] = useDo(
    (c: Change) => ask(api.POST("/api/settings/changes/{id}/back", { params: { path: { id: c.id } } })),
    () => {
      toast("It is as it was before.");
      void client.invalidateQueries();
    },
  );
  const found = list.data?.changes ?? [];
  return (
    <div className="max-w-[860px]">
      <input
        className="input mb-2 !w-72"
        type="search"
        aria-label="Find a change of the settings"
        placeholder="Words in what was changed"
        value={search}
        onChange={(e) => {
          setSearch(e.target.value);
          setBefore([]);
        }}
      />
      <Trouble error={list.error} />
      <ul className="sheet" aria-label="What was changed">
        {list.data && found.length === 0 && <li className="px-4 py-3 text-ink2">Nothing yet.</li>}
        {found.map((c) => (
          <li key={c.id} className="border-line border-b px-4 py-2 last:border-0">
            <p className="flex flex-wrap items-baseline gap-x-3">
              <strong className="mr-auto">{c.what}</strong>
              <span className="text-[13px] text-ink2">
                {c.by}, {moment(c.at)}
              </span>
              {c.back ? (
                <button type="button" className="link" aria-label={`Take back: ${c.what}`} onClick={() => back(c)}>
                  Take back
                </button>
              ) : (
                <span className="text-[13px] text-ink3" title={c.why}>
                  {c.why}
                </span>
              )}
            </p>
            <ul className="text-[13px]">
              {c.points.map((p) => (
                <li key={p.what} className="break-words">
                  {p.what && <span className="text-ink2">{p.what}: </span>}
                  {p.before || <span className="text-ink3">nothing</span>} →{" "}
                  {p.after || <span className="text-ink3">nothing</span>}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      <p className="mt-2 flex gap-4">
        {before.length > 0 && (
          <button type="button" className="link" onClick={() => setBefore(before.slice(0, -1))}>
            Later ones
          </button>
        )}
        {list.data?.more && (
          <button type="button" className="link" onClick={() => setBefore([...before, found.at(-1)?.id ?? 0])}>
            Earlier ones
          </button>
        )}
      </p>
    </div>
  );
}
