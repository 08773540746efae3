/** The periods that are told of. */
const spans: [string, string, unknown][] = [
  ["this_quarter", "this quarter", "this_quarter"],
  ["last_quarter", "last quarter", "last_quarter"],
  ["this_year", "this year", "this_year"],
  ["last_year", "last year", "last_year"],
  ["months", "the last 12 months", { last: 12, unit: "month" }],
];

/** The period of a name, as a brief has it. */
export const spanOf = (name: string) => spans.find(([k]) => k === name)?.[2] as never;

/** Chooses the period that is told of. */
export function Spans({ label, value, onChange }: { label: string; value: string; onChange: (name: string) => void }) {
  return (
    <select className="input !w-auto" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
      {spans.map(([k, words]) => (
        <option key={k} value={k}>
          {words}
        </option>
      ))}
    </select>
  );
}
