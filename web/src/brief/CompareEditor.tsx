import type { Brief, SchemaInfo } from "../api/client";
import { Seg } from "../ui/Seg";
import { tidy } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };

/** Compares with an earlier period, and sets what is to be reached. */
export function CompareEditor({ brief, onChange }: Props) {
  const p = brief.period?.within;
  const closed =
    p !== undefined &&
    p !== "past" &&
    p !== "future" &&
    !(typeof p === "object" && (!p.from || !p.to) && (!!p.from || !!p.to));
  return (
    <div>
      <Seg
        label="Compared with"
        value={brief.compare ?? ""}
        onChange={(v) => onChange(tidy({ ...brief, compare: v || undefined }))}
        options={[
          ["", "Nothing"],
          ["previous_period", "The period before"],
          ["year_before", "The year before"],
        ]}
      />
      {!closed && (
        <p className="mt-2 text-[13px] text-ink2">To compare, the report needs a period with a first and a last day.</p>
      )}
    </div>
  );
}
