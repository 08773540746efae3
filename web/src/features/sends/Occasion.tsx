import type { Brief } from "../../api/client";
import { clocked, happens, switched, type When, weekdays } from "./terms";

/** When something is sent, as a line one reads: every week on Monday at 08:00. */
export function Occasion({
  when,
  brief,
  numbers,
  onChange,
}: {
  when: When;
  /** Of a report; a dashboard is sent by the clock. */
  brief?: Brief;
  /** The report's numbers, by key. */
  numbers: { key: string; label: string }[];
  onChange: (w: When) => void;
}) {
  const events = happens(brief);
  return (
    <div className="sentence flex flex-wrap items-center gap-x-2 gap-y-1 !text-[17px]">
      Send it
      <select
        className="input !w-auto"
        aria-label="When it is sent"
        value={when.every ?? when.if}
        onChange={(e) => onChange(switched(when, e.target.value))}
      >
        <optgroup label="By the clock">
          {clocked.map(([k, words]) => (
            <option key={k} value={k}>
              {words}
            </option>
          ))}
        </optgroup>
        {events.length > 0 && (
          <optgroup label="When something happens">
            {events.map(([k, words]) => (
              <option key={k} value={k}>
                {words}
              </option>
            ))}
          </optgroup>
        )}
      </select>
      {when.every === "week" && (
        <>
          on
          <select
            className="input !w-auto"
            aria-label="On which day"
            value={when.on}
            onChange={(e) => onChange({ ...when, on: Number(e.target.value) })}
          >
            {weekdays.map((d, i) => (
              <option key={d} value={i + 1}>
                {d}
              </option>
            ))}
          </select>
        </>
      )}
      {when.every === "month" && (
        <>
          on day
          <input
            type="number"
            className="input !w-20"
            aria-label="On which day of the month"
            min={1}
            max={31}
            value={when.on}
            onChange={(e) => onChange({ ...when, on: Number(e.target.value) })}
          />
        </>
      )}
      {when.every && (
        <>
          at
          <input
            type="time"
            className="input !w-auto"
            aria-label="At what time"
            required
            value={when.at}
            onChange={(e) => onChange({ ...when, at: e.target.value })}
          />
        </>
      )}
      {(when.if === "over" || when.if === "under") && (
        <>
          :
          <select
            className="input !w-auto"
            aria-label="Which number"
            value={when.summary ?? numbers[0]?.key ?? ""}
            onChange={(e) => onChange({ ...when, summary: e.target.value })}
          >
            {numbers.map((n) => (
              <option key={n.key} value={n.key}>
                {n.label}
              </option>
            ))}
          </select>
          {when.if}
          <input
            className="input !w-32"
            aria-label="The line"
            inputMode="decimal"
            placeholder="100000"
            value={when.line ?? ""}
            onChange={(e) => onChange({ ...when, line: e.target.value.trim() })}
          />
        </>
      )}
    </div>
  );
}
