import { useState } from "react";
import type { Brief, SchemaInfo } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { fieldAt, isDated } from "../fields/fields";
import { PeriodPicker } from "../fields/PeriodPicker";

const dated = (f: { field: { kind: string } }) => isDated(f.field.kind);

/** The main period: first on which date field, then which period. */
export function PeriodEditor({
  schema,
  brief,
  onChange,
  onDone,
}: {
  schema: SchemaInfo;
  brief: Brief;
  onChange: (b: Brief) => void;
  onDone?: () => void;
}) {
  const [field, setField] = useState(brief.period?.field);
  const start = brief.start as string;
  const found = field ? fieldAt(schema, start, field) : undefined;
  if (!field)
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find a date for the period"
        fits={dated}
        onPick={(f) => setField(f.path)}
      />
    );
  return (
    <div>
      <div className="mb-2 flex items-center gap-2">
        <button
          type="button"
          className="btn btn-quiet !px-1 font-semibold underline decoration-dotted"
          title="Choose another date"
          onClick={() => setField(undefined)}
        >
          {found?.label ?? field}
        </button>
        {brief.period && (
          <button
            type="button"
            className="btn btn-quiet ml-auto"
            onClick={() => {
              const { period: _, compare: __, ...rest } = brief;
              onChange(rest);
              onDone?.();
            }}
          >
            Remove
          </button>
        )}
      </div>
      <PeriodPicker
        schema={schema}
        value={brief.period?.within}
        onDone={onDone}
        onChange={(within) => onChange({ ...brief, period: { field, within } })}
      />
    </div>
  );
}
