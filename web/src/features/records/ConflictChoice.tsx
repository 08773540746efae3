import { useEffect, useRef, useState } from "react";
import type { FieldInfo } from "../../api/client";
import { theirs } from "../work/conflict";

type Values = Record<string, string>;

/** What someone else changed meanwhile, field by field; where both changed a field, one chooses. */
export function ConflictChoice({
  fields,
  was,
  now,
  mine,
  onChoose,
}: {
  fields: FieldInfo[];
  was: Values;
  now: Values;
  mine: Values;
  onChoose: (keepMine: Set<string>) => void;
}) {
  const changed = theirs(fields, was, now, mine);
  const [keep, setKeep] = useState(new Set(changed.filter((c) => c.both).map((c) => c.field.key)));
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const said = (v: string | undefined) => v || "nothing";
  return (
    <div
      className="mt-2 rounded-md border border-[var(--amber)] bg-amber-soft p-3"
      role="group"
      aria-label="Changed meanwhile"
    >
      <h3 ref={heading} tabIndex={-1} className="mb-1 font-semibold">
        Someone else changed this meanwhile
      </h3>
      <ul className="mb-3 text-[13px]">
        {changed.map(({ field, both }) => (
          <li key={field.key} className="mb-1">
            {both ? (
              <fieldset className="flex flex-wrap items-center gap-x-4">
                <legend className="float-left mr-2 font-semibold">{field.label}:</legend>
                {[true, false].map((own) => (
                  <label key={String(own)} className="flex items-center gap-1.5">
                    <input
                      type="radio"
                      name={`keep-${field.key}`}
                      checked={keep.has(field.key) === own}
                      onChange={() => {
                        const next = new Set(keep);
                        if (own) next.add(field.key);
                        else next.delete(field.key);
                        setKeep(next);
                      }}
                    />
                    {own ? `yours, ${said(mine[field.key])}` : `theirs, ${said(now[field.key])}`}
                  </label>
                ))}
              </fieldset>
            ) : (
              <>
                <b>{field.label}</b> was {said(was[field.key])} and is {said(now[field.key])}
              </>
            )}
          </li>
        ))}
      </ul>
      <button type="button" className="btn btn-main" onClick={() => onChoose(keep)}>
        Go on with both
      </button>
    </div>
  );
}
