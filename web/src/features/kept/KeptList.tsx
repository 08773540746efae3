import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { anew } from "../../api/keys";
import { Empty, Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";

/** The results that one kept: all of them, or those of a report. */
export function KeptList({ report, onOpen }: { report?: number; onOpen?: () => void }) {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: ["kept", { report: report ?? 0 }],
    queryFn: () => ask(api.GET("/api/kept", { params: { query: report ? { report } : {} } })),
  });
  const [search, setSearch] = useState("");
  const [asked, setAsked] = useState<number>();
  const [remove] = useDo(
    (id: number) => ask(api.DELETE("/api/kept/{id}", { params: { path: { id } } })),
    () => {
      setAsked(undefined);
      anew(client, "kept");
    },
  );
  if (!list.data) return <Trouble error={list.error} />;
  const has = (k: Schemas["KeptBody"]) => k.name.toLowerCase().includes(search.trim().toLowerCase());
  const shown = list.data.filter(has);
  if (list.data.length === 0)
    return (
      <Empty title="Nothing is kept yet">
        “Keep this result…”, in the menu of {report ? "this" : "a"} report, keeps its numbers and records as they are at
        that moment.
      </Empty>
    );
  return (
    <>
      {list.data.length > 8 && (
        <input
          type="search"
          className="input mb-2 !w-72"
          aria-label="Find a kept result"
          placeholder="Words in names"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
      )}
      <ul aria-label="Kept results" className="divide-y divide-line border-line border-y">
        {shown.map((k) => (
          <li key={k.id} className="flex items-baseline gap-3 py-2">
            <Link to={`/kept/${k.id}`} className="link min-w-0 flex-1 truncate font-semibold" onClick={onOpen}>
              {k.name}
            </Link>
            <span className="shrink-0 text-[13px] text-ink2">as it was on {k.when}</span>
            {asked === k.id ? (
              <span className="shrink-0">
                <button type="button" className="btn btn-quiet" onClick={() => setAsked(undefined)}>
                  Not now
                </button>
                <button type="button" className="btn" onClick={() => remove(k.id)}>
                  Delete for good
                </button>
              </span>
            ) : (
              <button
                type="button"
                className="btn btn-quiet shrink-0"
                aria-label={`Delete ${k.name}`}
                onClick={() => setAsked(k.id)}
              >
                Delete
              </button>
            )}
          </li>
        ))}
      </ul>
      {shown.length === 0 && <p className="py-3 text-ink2">No name has these words.</p>}
    </>
  );
}
