import type { Schemas } from "../../api/client";
import { useSubjects } from "../../api/hooks";

export type Access = Schemas["AccessBody"];

/** Who may open something, and who may change it: everyone, teams and people. */
export function AccessList({
  access,
  none,
  onChange,
}: {
  access: Access[];
  none: string;
  onChange: (access: Access[]) => void;
}) {
  const subjects = useSubjects();
  const nameOf = (a: Access) =>
    a.kind === "everyone"
      ? "Everyone"
      : (subjects.find((s) => s.kind === a.kind && s.id === a.subject)?.name ?? "someone who has left");
  const left = [{ kind: "everyone" as const, id: 0, name: "Everyone" }, ...subjects].filter(
    (s) => !access.some((a) => a.kind === s.kind && a.subject === s.id),
  );
  return (
    <>
      <ul aria-label="Access" className="mb-2">
        {access.map((a, i) => (
          <li key={`${a.kind} ${a.subject}`} className="flex items-center gap-2 py-0.5">
            <span className="mr-auto">{nameOf(a)}</span>
            <select
              className="input !w-36"
              aria-label={`What ${nameOf(a)} may do`}
              value={a.mayChange ? "change" : "open"}
              onChange={(e) =>
                onChange(access.map((x, k) => (k === i ? { ...x, mayChange: e.target.value === "change" } : x)))
              }
            >
              <option value="open">can open</option>
              <option value="change">can change</option>
            </select>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              aria-label={`Take access from ${nameOf(a)}`}
              onClick={() => onChange(access.filter((_, k) => k !== i))}
            >
              ×
            </button>
          </li>
        ))}
        {access.length === 0 && <li className="text-ink2">{none}</li>}
      </ul>
      <select
        className="input"
        aria-label="Let someone else in"
        value=""
        onChange={(e) => {
          const [kind, subject] = e.target.value.split(" ");
          if (kind) onChange([...access, { kind: kind as Access["kind"], subject: Number(subject), mayChange: false }]);
        }}
      >
        <option value="">Let someone else in …</option>
        {left.map((s) => (
          <option key={`${s.kind} ${s.id}`} value={`${s.kind} ${s.id}`}>
            {s.name}
            {s.kind === "team" ? " (team)" : ""}
          </option>
        ))}
      </select>
    </>
  );
}
