import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Brief } from "../../api/client";
import { Drawer } from "../../ui/Drawer";
import { Trouble } from "../../ui/Say";
import { FoundRecords } from "../work/FoundRecords";
import { useFinder } from "../work/useFinder";

/** "Why is it (not) here?": names a record and says which condition leaves it out, or where in the result it is. */
export function Why({ brief, type, onClose }: { brief: Brief; type: string; onClose: () => void }) {
  const [id, setId] = useState<string>();
  const finder = useFinder({ types: [type], most: 20, onPick: (r) => setId(r.id) });
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
        {...finder.field}
        className="input max-w-[420px]"
        aria-label="Name or number of a record"
        placeholder="Name or number …"
        // biome-ignore lint/a11y/noAutofocus: the sheet opens to be typed into
        autoFocus
        onChange={(e) => {
          finder.type(e.target.value);
          setId(undefined);
        }}
      />
      {id === undefined && <FoundRecords finder={finder} label="Records found" className="mt-2 max-w-[420px]" />}
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
