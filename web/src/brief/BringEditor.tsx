import { useState } from "react";
import type { Brief, SchemaInfo, Schemas, Tree } from "../api/client";
import { typeOf } from "../fields/fields";
import { tidy, withoutPaths } from "./edits";
import { GroupEditor as Conditions } from "./TreeEditor";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void; onDone: () => void };
type Bring = Schemas["Bring"];

/** Brings linked records: a row for each, once more from there. */
export function BringEditor({ schema, brief, onChange, onDone }: Props) {
  const start = typeOf(schema, brief.start);
  if (!start) return null;
  const set = (bring: Bring | undefined, gone?: string) => {
    const next = tidy({ ...brief, bring });
    onChange(gone ? withoutPaths(next, (p) => p === gone || p.startsWith(`${gone}.`)) : next);
  };
  if (!brief.bring) return <Links schema={schema} type={start.key} onPick={(link) => set({ link })} />;
  return (
    <div>
      <One schema={schema} type={start.key} value={brief.bring} onChange={set} />
      <p className="mt-3 text-[13px] text-ink2">Each {start.one} still counts once, whatever rows there are.</p>
      <div className="mt-3 flex justify-end">
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => {
            set(undefined, brief.bring?.link);
            onDone();
          }}
        >
          Remove
        </button>
      </div>
    </div>
  );
}

function Links({ schema, type, onPick }: { schema: SchemaInfo; type: string; onPick: (link: string) => void }) {
  const t = typeOf(schema, type);
  return (
    <div role="listbox" aria-label="Linked records to bring">
      {t?.backs.map((b) => (
        <button
          key={b.key}
          type="button"
          role="option"
          aria-selected={false}
          className="pick"
          onClick={() => onPick(b.key)}
        >
          {b.label}
        </button>
      ))}
      {t?.backs.length === 0 && <p className="px-2 text-ink2">Nothing is linked to these records.</p>}
    </div>
  );
}

function One({
  schema,
  type,
  value,
  onChange,
}: {
  schema: SchemaInfo;
  type: string;
  value: Bring;
  onChange: (b: Bring) => void;
}) {
  const back = typeOf(schema, type)?.backs.find((b) => b.key === value.link);
  const [more, setMore] = useState(false);
  if (!back) return null;
  const where: Tree = value.where ?? { all: [] };
  const set = (change: Partial<Bring>) => {
    const next = { ...value, ...change } as Record<string, unknown>;
    for (const [k, v] of Object.entries(next)) if (v === undefined) delete next[k];
    onChange(next as Bring);
  };
  return (
    <div>
      <p className="font-semibold">each with its {back.label.toLowerCase()}</p>
      <label className="mt-2 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={value.keepEmpty !== false}
          onChange={(e) => set({ keepEmpty: e.target.checked ? undefined : false })}
        />
        keep those without any
      </label>
      <details className="mt-2" open={!!value.where}>
        <summary className="cursor-pointer text-ink2">only {back.label.toLowerCase()} where…</summary>
        <div className="mt-1">
          <Conditions
            schema={schema}
            start={back.type}
            value={where.all || where.any ? where : { all: [where] }}
            onChange={(w) => set({ where: w.all?.length === 0 ? undefined : w })}
          />
        </div>
      </details>
      {value.bring ? (
        <div className="mt-3 border-line border-l-2 pl-3">
          <One schema={schema} type={back.type} value={value.bring} onChange={(bring) => set({ bring })} />
          <button type="button" className="link mt-2 text-[13px]" onClick={() => set({ bring: undefined })}>
            Without these
          </button>
        </div>
      ) : more ? (
        <Links schema={schema} type={back.type} onPick={(link) => set({ bring: { link } })} />
      ) : (
        (typeOf(schema, back.type)?.backs.length ?? 0) > 0 && (
          <button type="button" className="link mt-2 text-[13px]" onClick={() => setMore(true)}>
            and their linked records…
          </button>
        )
      )}
    </div>
  );
}
