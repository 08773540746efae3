import { useSubjects } from "../../api/hooks";
import type { Terms } from "./terms";

/** To whom something is sent: people, and teams with whoever is in them then. */
export function Recipients({ terms, onChange }: { terms: Terms; onChange: (t: Terms) => void }) {
  const subjects = useSubjects();
  const chosen = [
    ...(terms.teams ?? []).map((id) => ({ kind: "team", id })),
    ...(terms.people ?? []).map((id) => ({ kind: "person", id })),
  ];
  const nameOf = (kind: string, id: number) =>
    subjects.find((s) => s.kind === kind && s.id === id)?.name ?? "someone who has left";
  const set = (kind: string, ids: number[]) => onChange({ ...terms, [kind === "team" ? "teams" : "people"]: ids });
  const of = (kind: string) => (kind === "team" ? terms.teams : terms.people) ?? [];
  const left = subjects.filter((s) => !chosen.some((c) => c.kind === s.kind && c.id === s.id));
  return (
    <fieldset>
      <legend className="mb-1 text-[13px] text-ink2">To</legend>
      <ul aria-label="To" className="mb-1.5 flex flex-wrap gap-1.5">
        {chosen.map(({ kind, id }) => (
          <li key={`${kind} ${id}`} className="flex items-center gap-1 rounded bg-sunk py-0.5 pr-1 pl-2 text-[14px]">
            {nameOf(kind, id)}
            {kind === "team" && <span className="text-ink2 text-xs">team</span>}
            <button
              type="button"
              className="px-1 text-ink2 hover:text-ink"
              aria-label={`Not to ${nameOf(kind, id)}`}
              onClick={() =>
                set(
                  kind,
                  of(kind).filter((x) => x !== id),
                )
              }
            >
              ×
            </button>
          </li>
        ))}
        {chosen.length === 0 && <li className="text-ink2">Nobody yet.</li>}
      </ul>
      <select
        className="input !w-64"
        aria-label="Send it to someone else, too"
        value=""
        onChange={(e) => {
          const [kind, id] = e.target.value.split(" ");
          if (kind) set(kind, [...of(kind), Number(id)]);
        }}
      >
        <option value="">Someone else …</option>
        {left.map((s) => (
          <option key={`${s.kind} ${s.id}`} value={`${s.kind} ${s.id}`}>
            {s.name}
            {s.kind === "team" ? " (team)" : ""}
          </option>
        ))}
      </select>
    </fieldset>
  );
}
