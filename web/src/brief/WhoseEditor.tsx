import type { Brief, SchemaInfo } from "../api/client";
import { typeOf } from "../fields/fields";
import { ValuePicker } from "../fields/ValuePicker";
import { begin } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void };

export function StartEditor({ schema, brief, onChange }: Props) {
  return (
    <div role="listbox" aria-label="Record types">
      {schema.types.map((t) => (
        <button
          key={t.key}
          type="button"
          role="option"
          aria-selected={t.key === brief.start}
          className="pick"
          onClick={() => t.key !== brief.start && onChange(begin(t.key))}
        >
          {t.label}
        </button>
      ))}
      <p className="mt-2 px-2 text-ink3 text-xs">Another record type begins a new report.</p>
    </div>
  );
}

export function WhoseEditor({ schema, brief, onChange, onDone }: Props & { onDone?: () => void }) {
  const w = brief.whose ?? "everyone";
  const lists = typeof w === "object" ? w : {};
  const people = typeOf(schema, schema.readers);
  const team = people?.fields.find((f) => f.to === "teams");
  const set = (whose: Brief["whose"]) => {
    const { whose: _, ...rest } = brief;
    const none = typeof whose === "object" && !whose.people?.length && !whose.teams?.length;
    onChange(whose === "everyone" || none ? rest : { ...rest, whose });
  };
  return (
    <div>
      <div role="listbox" aria-label="Whose records">
        {(
          [
            ["everyone", "Everyone's"],
            ["mine", "Mine"],
            ["team", "My team's"],
          ] as const
        ).map(([v, text]) => (
          <button
            key={v}
            type="button"
            role="option"
            aria-selected={w === v}
            className="pick"
            onClick={() => {
              set(v);
              onDone?.();
            }}
          >
            {text}
          </button>
        ))}
      </div>
      <p className="mt-3 mb-1 px-1 font-semibold">Or these people</p>
      <ValuePicker
        start={brief.start as string}
        path={typeOf(schema, brief.start)?.owner ?? "owner"}
        values={lists.people ?? []}
        onChange={(people) => set({ ...lists, people })}
      />
      {team && (
        <>
          <p className="mt-3 mb-1 px-1 font-semibold">Or these teams</p>
          <ValuePicker
            start={schema.readers}
            path={team.key}
            values={lists.teams ?? []}
            onChange={(teams) => set({ ...lists, teams })}
          />
        </>
      )}
    </div>
  );
}
