import type { Brief, SchemaInfo } from "../api/client";
import { tidy } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };

/** How many lines the list has at most. */
export function LimitEditor({ brief, onChange }: Props) {
  return (
    <label className="flex items-center gap-2" htmlFor="limit">
      the first
      <input
        id="limit"
        className="input !w-24"
        type="number"
        min={1}
        value={brief.limit ?? ""}
        onChange={(e) =>
          onChange(tidy({ ...brief, limit: Number(e.target.value) > 0 ? Number(e.target.value) : undefined }))
        }
      />
      records
    </label>
  );
}
