import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, Refused } from "../../api/client";
import { useFolders, useStyles, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { useDo } from "../../ui/useDo";
import { DeleteMany } from "./DeleteMany";
import type { Found } from "./FindPage";

type Act = (f: Found) => Promise<unknown> | undefined;

// A key of a style never begins so.
const house = "-house";

/** What can be done with many things at once. What cannot be done with one of them is said, and done with the others. */
export function Many({ items, deleted, onDone }: { items: Found[]; deleted: boolean; onDone: () => void }) {
  const client = useQueryClient();
  const [deleting, setDeleting] = useState(false);
  const folders = (useFolders().data ?? []).filter((f) => f.mayChange);
  const styles = useStyles();
  const people = useSubjects().filter((s) => s.kind === "person");
  const [run, busy] = useDo(async ({ said, act }: { said: string; act: Act }) => {
    let done = 0;
    const troubles: string[] = [];
    for (const f of items) {
      const call = act(f);
      if (!call) {
        troubles.push(`“${f.title}” is a ${f.kind === "board" ? "dashboard" : f.kind}.`);
        continue;
      }
      try {
        await call;
        done++;
      } catch (e) {
        troubles.push(`“${f.title}”: ${e instanceof Refused ? e.message : "that did not work."}`);
      }
    }
    anew(client, "find", "report", "reports", "boards", "folders");
    if (done > 0) toast(`${done} ${said}`);
    for (const t of troubles.slice(0, 3)) toast.error(t);
    onDone();
  });
  const all = (said: string, act: Act) => run({ said, act });
  const path = (f: Found) => ({ params: { path: { id: f.id } } });
  return (
    <div
      role="toolbar"
      aria-label="With what is chosen"
      className="sticky top-2 z-10 mb-2 flex flex-wrap items-center gap-2 rounded-md bg-amber-soft px-3 py-2"
    >
      <strong className="mr-2">
        {items.length} chosen{busy && " …"}
      </strong>
      {deleted ? (
        <button
          type="button"
          className="btn"
          onClick={() =>
            all("brought back", (f) =>
              ask(api.POST("/api/deleted/{kind}/{id}/back", { params: { path: { kind: f.kind, id: f.id } } })),
            )
          }
        >
          Bring back
        </button>
      ) : (
        <>
          <select
            className="input !w-44"
            aria-label="Move to a folder"
            value=""
            onChange={(e) => {
              const folder = Number(e.target.value);
              all("moved", (f) =>
                f.kind === "report"
                  ? ask(api.PUT("/api/reports/{id}/folder", { ...path(f), body: { folder } }))
                  : f.kind === "board"
                    ? ask(api.PUT("/api/boards/{id}/folder", { ...path(f), body: { folder } }))
                    : undefined,
              );
            }}
          >
            <option value="">Move to …</option>
            {folders.map((f) => (
              <option key={f.id} value={f.id}>
                {f.name}
              </option>
            ))}
          </select>
          <select
            className="input !w-44"
            aria-label="Give to someone"
            value=""
            onChange={(e) => {
              const owner = Number(e.target.value);
              all("given", (f) =>
                f.kind === "report"
                  ? ask(api.PUT("/api/reports/{id}/owner", { ...path(f), body: { owner } }))
                  : f.kind === "board"
                    ? ask(api.PUT("/api/boards/{id}/owner", { ...path(f), body: { owner } }))
                    : undefined,
              );
            }}
          >
            <option value="">Give to …</option>
            {people.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
          <select
            className="input !w-40"
            aria-label="Give a style"
            value=""
            onChange={(e) => {
              const style = e.target.value === house ? "" : e.target.value;
              all("drawn so", (f) =>
                f.kind === "report"
                  ? ask(api.PUT("/api/reports/{id}/style", { ...path(f), body: { style } }))
                  : undefined,
              );
            }}
          >
            <option value="">Draw as …</option>
            <option value={house}>the house style</option>
            {styles.map((k) => (
              <option key={k.key} value={k.key}>
                {k.name}
              </option>
            ))}
          </select>
          <button type="button" className="btn" onClick={() => setDeleting(true)}>
            Delete
          </button>
        </>
      )}
      {deleting && (
        <DeleteMany
          items={items}
          onClose={() => setDeleting(false)}
          onDelete={() => {
            setDeleting(false);
            all("deleted. Reports and dashboards can be brought back for 30 days.", (f) =>
              f.kind === "report"
                ? ask(api.DELETE("/api/reports/{id}", path(f)))
                : f.kind === "board"
                  ? ask(api.DELETE("/api/boards/{id}", path(f)))
                  : ask(api.DELETE("/api/folders/{id}", path(f))),
            );
          }}
        />
      )}
      <button type="button" className="btn btn-quiet" onClick={onDone}>
        None
      </button>
    </div>
  );
}
