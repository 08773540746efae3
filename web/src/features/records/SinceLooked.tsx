import type { Schemas } from "../../api/client";

type Entry = Schemas["EntryBody"];

/** What an entry says in a few words. */
const said = (e: Entry) =>
  e.what === "changed"
    ? `${e.label} ${e.from || "empty"} → ${e.to || "empty"}`
    : e.what === "made"
      ? "made"
      : e.what === "planned"
        ? `${e.kind || "activity"} planned`
        : e.kind || "activity";

/** What others did since one last looked at a record. */
export function SinceLooked({ since }: { since?: Schemas["SinceBody"] }) {
  if (!since?.at || since.news.length === 0) return null;
  const shown = since.news.slice(0, 3);
  return (
    <p className="mb-2 rounded bg-amber-soft px-3 py-1.5 text-[13px]" role="status">
      <strong>Since you last looked, {since.when}:</strong>{" "}
      {shown.map((e) => said(e) + (e.person ? ` (${e.person})` : "")).join("; ")}
      {since.news.length > shown.length && "; and more, marked below"}.
    </p>
  );
}
