import type { Schemas } from "../../api/client";

/** A record that was found by its name, with what tells it from others of that name. */
export function Named({ record, one }: { record: Pick<Schemas["NamedRecord"], "id" | "name" | "note">; one?: string }) {
  const note = [one, record.note].filter(Boolean).join(" · ");
  return (
    <>
      <span className="max-w-[62%] shrink-0 truncate">{record.name}</span>
      <span className="min-w-0 truncate text-ink3 text-xs" title={note}>
        {note || record.id}
      </span>
    </>
  );
}
