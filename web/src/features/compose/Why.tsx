import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Brief } from "../../api/client";
import { useRecordsNamed } from "../../api/hooks";
import { Drawer } from "../../ui/Drawer";
import { Trouble } from "../../ui/Say";
import { Named } from "../work/Named";

/** "Why is it (not) here?": names a record and says which condition leaves it out, or where in the result it is. */
export function Why({ brief, type, onClose }: { brief: Brief; type: string; onClose: () => void }) {
  const [search, setSearch] = useState("");
  const [id, setId] = useState<string>();
  const found = useRecordsNamed(type, search);
  const verdict = useQuery({
    queryKey: ["why", brief, id],
    enabled: id !== undefined,
    queryFn: () => ask(api.POST("/api/why", { body: { brief, id: id as string } })),
    retry: false,
  });
  const v = verdict.data;
  return (
    <Drawer
      open
      onClose={onClose}
      title="Why is it here, or not?"
      note="Name a record, and Uzzel says where in the result it is, or what takes it out."
    >
      <input
        className="input max-w-[420px]"
        aria-label="Name or number of a record"
        placeholder="Name or number …"
        // biome-ignore lint/a11y/noAutofocus: the sheet opens to be typed into
        autoFocus
        value={search}
        onChange={(e) => {
          setSearch(e.target.value);
          setId(undefined);
        }}
      />
      {id === undefined && search.trim() !== "" && (
        <ul className="mt-2 max-w-[420px]" aria-label="Records found">
          {found.data?.map((r) => (
            <li key={r.id}>
              <button type="button" className="pick" onClick={() => setId(r.id)}>
                <Named record={r} />
              </button>
            </li>
          ))}
          {found.data?.length === 0 && (
            <li className="px-2 py-2 text-ink2">No record has this name, or you may not see it.</li>
          )}
        </ul>
      )}
      <div className="mt-4">
        <Trouble error={verdict.error} />
        {v && id && (
          <>
            <p className="title text-lg">
              <Link className="link" to={`/records/${type}/${id}`}>
                {v.name}
              </Link>{" "}
              {v.in ? "is in the result" : "is not in the result"}
            </p>
            {v.in && v.groups.some((g) => g.length > 0) && (
              <ul className="mt-2 list-disc pl-5">
                {v.groups.map((g) => (
                  <li key={g.join("\n")}>in {g.join(", ")}</li>
                ))}
              </ul>
            )}
            {!v.in && (
              <ul className="mt-2 space-y-2">
                {v.out.map((o) => (
                  <li key={o.words} className="rounded-md border border-line px-3 py-2">
                    <p>
                      It does not meet <strong>{o.words}</strong>
                    </p>
                    {o.has.map((h) => (
                      <p key={h.field + h.text} className="text-ink2 text-[13px]">
                        Its {h.field}: {h.text || "nothing"}
                      </p>
                    ))}
                  </li>
                ))}
              </ul>
            )}
          </>
        )}
      </div>
    </Drawer>
  );
}
