import { Popover } from "radix-ui";
import { useRef, useState } from "react";
import type { Brief, SchemaInfo } from "../../api/client";
import { useFiltersSaid } from "../../api/hooks";
import type { FieldFilter, Filters } from "../../api/panels";
import { WhoseEditor } from "../../brief/WhoseEditor";
import { FieldFinder } from "../../fields/FieldFinder";
import { endOf, typeOf } from "../../fields/fields";
import { MomentPicker } from "../../fields/MomentPicker";
import { PeriodPicker } from "../../fields/PeriodPicker";
import { ValuePicker } from "../../fields/ValuePicker";
import { same } from "../../ui/useSteps";

const plain = ["choice", "link", "text", "yesno"];

/** The sentence that a board is read by: whose, which period, what else it is narrowed to. */
export function FilterBar({
  schema,
  starts,
  value,
  kept,
  mayKeep,
  onChange,
  onKeep,
}: {
  schema: SchemaInfo;
  /** The record types of its panels. */
  starts: string[];
  value: Filters;
  kept: Filters;
  mayKeep: boolean;
  onChange: (f: Filters) => void;
  onKeep: () => void;
}) {
  const owned = starts.find((s) => typeOf(schema, s)?.owner) ?? "deals";
  const changed = !same(value, kept);
  const clean = (f: Filters): Filters =>
    Object.fromEntries(Object.entries(f).filter(([, v]) => v !== undefined && !(Array.isArray(v) && v.length === 0)));
  const set = (change: Partial<Filters>) => onChange(clean({ ...value, ...change }));
  const fields = value.fields ?? [];
  const [open, setOpen] = useState<string>();
  const bar = useRef<HTMLDivElement>(null);
  const one = (label: string) => ({
    label,
    open: open === label,
    onOpen: (is: boolean) => setOpen((now) => (is ? label : now === label ? undefined : now)),
    bar,
  });
  const said = useFiltersSaid(value);
  return (
    <div
      ref={bar}
      role="group"
      aria-label="What this dashboard is read by"
      className="sentence mb-2 !text-[17px] !leading-[30px]"
    >
      Of{" "}
      <Clause
        {...one("whose")}
        text={value.whose === undefined ? "everyone" : said?.whose || "…"}
        quiet={value.whose === undefined}
      >
        <WhoseEditor
          schema={schema}
          brief={{ version: 1, start: owned, whose: value.whose } as Brief}
          onChange={(b) => set({ whose: b.whose === "everyone" ? undefined : b.whose })}
          onDone={() => setOpen(undefined)}
        />
      </Clause>
      {" · "}
      <Clause
        {...one("period")}
        text={value.period === undefined ? "each in its own period" : said?.period || "…"}
        quiet={value.period === undefined}
      >
        {value.period !== undefined && (
          <button
            type="button"
            className="btn mb-2"
            onClick={() => {
              set({ period: undefined });
              setOpen(undefined);
            }}
          >
            Each in its own period
          </button>
        )}
        <PeriodPicker
          schema={schema}
          value={value.period}
          onChange={(period) => set({ period })}
          onDone={() => setOpen(undefined)}
        />
      </Clause>
      {value.period !== undefined && said?.dates && <span className="text-[13px] text-ink2"> ({said.dates})</span>}
      {" · "}
      {fields.map((f, i) => (
        <span key={`${f.type} ${f.field}`}>
          {i === 0 ? "where " : " and "}
          <Clause {...one(f.field)} text={said?.fields[i] ?? "…"}>
            {/* Above the values, so that it stays where it is when they arrive. */}
            <button
              type="button"
              className="btn mb-2"
              onClick={() => {
                set({ fields: fields.filter((_, k) => k !== i) });
                setOpen(undefined);
              }}
            >
              Remove
            </button>
            <ValuePicker
              start={f.type}
              path={f.field}
              values={f.values ?? []}
              onChange={(values) =>
                set({
                  fields: values.length
                    ? fields.map((x, k) => (k === i ? { ...f, values } : x))
                    : fields.filter((_, k) => k !== i),
                })
              }
            />
          </Clause>{" "}
        </span>
      ))}
      <Clause {...one("narrow by")} text={fields.length ? "another condition…" : "all records"} quiet>
        <Narrow
          schema={schema}
          starts={starts}
          onPick={(f) => set({ fields: [...fields.filter((x) => x.type !== f.type || x.field !== f.field), f] })}
        />
      </Clause>
      {" · "}
      <Clause
        {...one("as of")}
        text={value.asOf === undefined ? "now" : said?.asOf ? `as of ${said.asOf}` : "…"}
        quiet={value.asOf === undefined}
      >
        <MomentPicker value={value.asOf} onChange={(asOf) => set({ asOf })} />
      </Clause>
      {changed && (
        <span className="ml-3 font-[family-name:var(--font-text)] text-[13px]">
          <button type="button" className="link" onClick={() => onChange(kept)}>
            back to as saved
          </button>
          {mayKeep && (
            <>
              {" · "}
              <button type="button" className="link" onClick={onKeep}>
                open like this from now on
              </button>
            </>
          )}
        </span>
      )}
    </div>
  );
}

function Clause({
  label,
  text,
  quiet,
  open,
  onOpen,
  bar,
  children,
}: {
  label: string;
  text: string;
  quiet?: boolean;
  open: boolean;
  onOpen: (is: boolean) => void;
  /** The sentence: a press on another of its clauses goes there at once. */
  bar: React.RefObject<HTMLDivElement | null>;
  children: React.ReactNode;
}) {
  return (
    <Popover.Root open={open} onOpenChange={onOpen}>
      <Popover.Trigger className={quiet ? "invite" : "clause"} aria-label={`${label}: ${text}`}>
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="pop max-h-[min(76vh,var(--radix-popover-content-available-height))] w-[380px] max-w-[calc(100vw-24px)] overflow-auto p-3 font-[family-name:var(--font-text)]"
          align="start"
          sideOffset={6}
          collisionPadding={12}
          aria-label={label}
          onInteractOutside={(e) => e.target instanceof Node && bar.current?.contains(e.target) && e.preventDefault()}
          onCloseAutoFocus={(e) =>
            document.querySelector("[data-state=open].clause,[data-state=open].invite") && e.preventDefault()
          }
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Narrow({
  schema,
  starts,
  onPick,
}: {
  schema: SchemaInfo;
  starts: string[];
  onPick: (f: FieldFilter) => void;
}) {
  const [chosen, setChosen] = useState<{ type: string; field: string }>();
  if (!chosen)
    return (
      <FieldFinder
        schema={schema}
        start={starts[0] ?? "deals"}
        label="Find a field to narrow the panels by"
        fits={(f) => plain.includes(f.field.kind)}
        onPick={(f) => setChosen(endOf(schema, starts[0] ?? "deals", f.path))}
      />
    );
  return (
    <ValuePicker
      start={chosen.type}
      path={chosen.field}
      values={[]}
      onChange={(values) => onPick({ ...chosen, values })}
    />
  );
}
