import type { Brief } from "../api/client";
import { useMe } from "../api/hooks";

export type Moment = NonNullable<Brief["asOf"]>;

/** The ends of days that one mostly asks for, in the words of a brief. */
export const endsOfDays: [string, string][] = [
  ["yesterday", "the end of yesterday"],
  ["last_week", "the end of last week"],
  ["last_month", "the end of last month"],
  ["last_quarter", "the end of last quarter"],
  ["last_year", "the end of last year"],
];

/** Picks the day that records are read as of; nothing for now. */
export function MomentPicker({
  value,
  onChange,
}: {
  value: Moment | undefined;
  onChange: (m: Moment | undefined) => void;
}) {
  const today = useMe().data?.today ?? "";
  const now = value ?? "";
  const day = typeof now === "string" && /^\d/.test(now);
  return (
    <fieldset>
      <legend className="mb-2 font-semibold">The records as they were at</legend>
      {[["", "now, as they are"], ...endsOfDays].map(([word, label]) => (
        <label key={word} className="flex items-center gap-2 py-0.5">
          <input type="radio" name="as-of" checked={now === word} onChange={() => onChange(word || undefined)} />
          {label}
        </label>
      ))}
      {typeof now === "object" && (
        <label className="flex items-center gap-2 py-0.5">
          <input type="radio" name="as-of" checked readOnly />
          {now.ago} {now.unit}s ago
        </label>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="radio" name="as-of" checked={day} onChange={() => onChange(today)} aria-label="the end of a day" />
        <input
          type="date"
          className="input !w-44"
          aria-label="The day"
          max={today}
          value={day ? String(now) : ""}
          onChange={(e) => e.target.value && onChange(e.target.value)}
        />
      </label>
      <p className="mt-2 text-[13px] text-ink2">
        From the history: fields, links and which records there were. People and teams are today’s.
      </p>
    </fieldset>
  );
}
