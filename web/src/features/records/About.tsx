import { useState } from "react";
import { Link } from "react-router";
import type { Schemas, TypeInfo } from "../../api/client";
import { NotYours } from "../../ui/Say";
import { CellEditor } from "../work/CellEditor";
import { takeBack } from "../work/takeBack";
import type { useUndo } from "../work/useUndo";

type Field = Schemas["RecordFieldBody"];

/** Whether a field says something of a record by itself: not its own number, nor a link to the record itself. */
export const tells = (f: Field, type: string, id: string) =>
  f.kind !== "id" &&
  !(f.to === id && f.toType === type) &&
  !["created", "changed", "created_by", "changed_by"].includes(f.key);

/**
 * The fields of a record, each edited where it stands. Those that are empty or worked out, and who made it when, are folded
 * away until one asks for them.
 */
export function About({
  type,
  id,
  fields,
  sections,
  without,
  done,
}: {
  type: TypeInfo;
  id: string;
  fields: Field[];
  /** Fields that stand under headings of their own, before the others. */
  sections: Schemas["Section"][];
  /** Those that the page shows elsewhere. */
  without: string[];
  done: ReturnType<typeof useUndo>;
}) {
  const [all, setAll] = useState(false);
  const [editing, setEditing] = useState<string>();
  const line = (f: Field) => {
    const info = type.written ? type.fields.find((x) => x.key === f.key && x.written) : undefined;
    return (
      <div
        key={f.key}
        className="grid grid-cols-[104px_1fr] items-baseline gap-2 border-line border-b py-1 last:border-0"
      >
        <dt className="text-[13px] text-ink2" title={f.description}>
          {f.label}
        </dt>
        <dd className="relative min-w-0 break-words">
          {editing === f.key && info ? (
            <div className="h-7">
              <CellEditor
                type={type}
                field={info}
                id={id}
                shown={f.text}
                onDone={(edit) => {
                  setEditing(undefined);
                  if (edit?.changed.length)
                    done({
                      words: `${f.label} set${edit.words ? ` to ${edit.words}` : ""}`,
                      back: () => takeBack(type.key, edit.changed),
                    });
                }}
              />
            </div>
          ) : (
            <span className="flex gap-1">
              <span className="min-w-0 flex-1">
                {f.hidden ? (
                  <NotYours />
                ) : f.to ? (
                  <Link className="link" to={`/records/${f.toType}/${f.to}`}>
                    {f.text}
                  </Link>
                ) : (
                  <>
                    {f.text || <span className="text-ink3">–</span>}
                    {f.worth && <span className="ml-1.5 text-[12.5px] text-ink2">{f.worth}</span>}
                  </>
                )}
              </span>
              {info && !f.hidden && (
                <button
                  type="button"
                  className="shrink-0 px-1 text-[12px] text-ink3 hover:text-ink"
                  aria-label={`Edit ${f.label}`}
                  title={`Edit ${f.label}`}
                  onClick={() => setEditing(f.key)}
                >
                  ✎
                </button>
              )}
            </span>
          )}
        </dd>
      </div>
    );
  };
  const inSections = sections.flatMap((s) => s.fields);
  const shown = fields.filter((f) => !without.includes(f.key) && f.key !== type.name);
  const says = (f: Field) => tells(f, type.key, id) && (f.text !== "" || !!f.hidden) && !f.worked;
  const rest = shown.filter((f) => !inSections.includes(f.key));
  const open = rest.filter(says);
  // What a section names and is empty is folded away with the rest.
  const folded = [
    ...rest.filter((f) => !says(f) && f.kind !== "id"),
    ...shown.filter((f) => inSections.includes(f.key) && f.text === "" && !f.hidden),
  ];
  const empty = folded.filter((f) => f.text === "" && !f.worked && !f.hidden).length;
  const parts = sections
    .map((s) => ({
      heading: s.heading,
      fields: s.fields.flatMap((k) => shown.filter((f) => f.key === k && (f.text !== "" || f.hidden))),
    }))
    .filter((s) => s.fields.length > 0);
  return (
    <section className="sheet px-4 py-2.5" aria-label="About">
      {parts.map((s) => (
        <div key={s.heading} className="mb-2">
          <h2 className="title text-[15px]">{s.heading}</h2>
          <dl>{s.fields.map(line)}</dl>
        </div>
      ))}
      {(open.length > 0 || parts.length === 0 || all) && (
        <h2 className="title text-[15px]">{parts.length ? "Besides" : "About"}</h2>
      )}
      <dl>{[...open, ...(all ? folded : [])].map(line)}</dl>
      {folded.length > 0 && (
        <button
          type="button"
          className="mt-1 text-left text-[13px] text-ink2 hover:underline"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all
            ? "Fold away what is empty or worked out ▴"
            : `${[empty && `${empty} empty`, folded.length - empty && `${folded.length - empty} more`].filter(Boolean).join(", ")} ▸`}
        </button>
      )}
    </section>
  );
}
