import type { Brief } from "../api/client";
import { MomentPicker } from "../fields/MomentPicker";
import { tidy } from "./edits";

/** As of which day the records are taken, and whose relative periods are meant. */
export function AsOfEditor({ brief, onChange }: { brief: Brief; onChange: (b: Brief) => void }) {
  return (
    <div className="w-[300px]">
      <MomentPicker
        value={brief.asOf}
        onChange={(asOf) => onChange(tidy({ ...brief, asOf, periods: asOf ? brief.periods : undefined }))}
      />
      {brief.asOf && (
        <label className="mt-3 flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={brief.periods === "then"}
            onChange={(e) => onChange(tidy({ ...brief, periods: e.target.checked ? "then" : undefined }))}
          />
          “This quarter” and such go by that day, not by today
        </label>
      )}
    </div>
  );
}
