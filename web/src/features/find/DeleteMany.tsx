import { useQueries } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { api, ask } from "../../api/client";
import { Modal } from "../../ui/Modal";
import type { Found } from "./FindPage";

/** Asks before several things are deleted, and says where the reports among them stand. */
export function DeleteMany({
  items,
  onDelete,
  onClose,
}: {
  items: Found[];
  onDelete: () => void;
  onClose: () => void;
}) {
  const reports = items.filter((f) => f.kind === "report");
  const uses = useQueries({
    queries: reports.map((f) => ({
      queryKey: ["uses", f.id],
      queryFn: () => ask(api.GET("/api/reports/{id}/uses", { params: { path: { id: f.id } } })),
    })),
  });
  const known = uses.every((u) => !u.isPending);
  const standing = reports.flatMap((f, i) => {
    const found = uses[i].data;
    const places = (found?.uses ?? []).map((u) => (u.pages ? `the pages of ${u.title.toLowerCase()}` : `“${u.title}”`));
    if (found?.hidden) places.push(`${found.hidden} that you may not open`);
    return places.length ? [{ id: f.id, title: f.title, places }] : [];
  });
  const kinds = new Set(items.map((f) => f.kind));
  return (
    <Modal
      title={`Delete ${items.length === 1 ? `“${items[0].title}”` : `these ${items.length}`}?`}
      width={480}
      onClose={onClose}
    >
      {!known && <p className="text-ink2">Looking where they stand …</p>}
      {known && standing.length === 0 && reports.length > 0 && (
        <p className="text-ink2">
          {reports.length === 1 ? "It stands" : "They stand"} on no dashboard and no record page.
        </p>
      )}
      {standing.length > 0 && (
        <>
          <p>
            {items.length === 1
              ? "It stands where people read it, and will be missing there:"
              : `${standing.length === 1 ? "One of them stands where people read it" : `${standing.length} of them stand where people read them`}, and will be missing there:`}
          </p>
          <ul className="mt-1 max-h-56 list-disc overflow-auto pl-5">
            {standing.map((s) => (
              <li key={s.id}>
                <strong>{s.title}</strong> on {s.places.join(", ")}
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-2 text-ink2">
        Reports and dashboards can be brought back for 30 days
        {kinds.has("folder") ? "; folders go for good, and only empty ones" : ""}.
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button type="button" className="btn btn-main" disabled={!known} onClick={onDelete}>
          Delete
        </button>
      </div>
    </Modal>
  );
}
