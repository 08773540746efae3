import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { may, useMe, useSchema } from "../../api/hooks";
import { count } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { TypeIcon } from "../../ui/TypeIcon";
import { useDo } from "../../ui/useDo";
import { ChoicesDialog } from "./ChoicesDialog";
import { FieldDialog, kindLabel } from "./FieldDialog";
import { LimitDialog, limitSaid } from "./LimitDialog";
import { RailDialog } from "./RailDialog";
import { RetireDialog } from "./RetireDialog";
import { DropTypeDialog, TypeDialog } from "./TypeDialog";

type Field = Schemas["ShapedField"];

/** What a field that has no choices says of itself. */
const said = (f: Field, to?: string) =>
  [
    to ? `a link to ${to.toLowerCase()}` : kindLabel(f.kind),
    f.worked && !f.formula && "worked out by the program",
    f.formula && `= ${f.formula}`,
    (f.yes || f.no) && `${f.yes || "yes"} or ${f.no || "no"}`,
    f.unit && `in ${f.unit}`,
    f.required && "never empty",
    f.unique && "no two the same",
    f.phrase && `said “${f.phrase} this month”`,
    f.default && `begins with ${f.default}`,
    f.description,
  ]
    .filter(Boolean)
    .join(" · ");

/** How records are shaped: stages, choices, and fields of one's own. */
export function ShapePage() {
  const me = useMe().data;
  const schema = useSchema();
  const client = useQueryClient();
  const [type, setType] = useState("deals");
  const [editing, setEditing] = useState<Field>();
  const [limiting, setLimiting] = useState<Field>();
  const [retiring, setRetiring] = useState<Field>();
  const [open, setOpen] = useState<Field | "field" | "type" | "words" | "drop" | "stages" | "rail">();
  const shape = useQuery({
    queryKey: ["shape", type],
    enabled: may(me, "shape"),
    queryFn: () => ask(api.GET("/api/shape/{type}", { params: { path: { type } } })),
  });
  const done = (next = type) => {
    setType(next);
    void client.invalidateQueries();
    setEditing(undefined);
    setLimiting(undefined);
    setRetiring(undefined);
    setOpen(undefined);
  };
  const [drop, dropping] = useDo(
    (f: Field) =>
      ask(
        api.DELETE("/api/shape/{type}/fields/{field}", {
          params: { path: { type, field: f.key }, query: { version: shape.data?.version } },
        }),
      ),
    () => {
      toast("Taken away, with its values. For 30 days, Settings can take it back.");
      done();
    },
  );
  if (!me || !schema) return null;
  if (!may(me, "shape"))
    return <Empty title="Records are shaped by administrators">Ask one of them for a change.</Empty>;
  const types = schema.types.filter((t) => t.written);
  const fields = shape.data?.fields ?? [];
  return (
    <>
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Fields and choices</h1>
        <button type="button" className="btn" disabled={!shape.data} onClick={() => setOpen("rail")}>
          Order of records
        </button>
        <button type="button" className="btn" disabled={!shape.data} onClick={() => setOpen("type")}>
          New record type
        </button>
        <button type="button" className="btn btn-main" disabled={!shape.data} onClick={() => setOpen("field")}>
          New field
        </button>
      </div>
      <p className="mb-3 max-w-[70ch] text-ink2">
        What is called otherwise here is called so everywhere: in records, their history, reports and dashboards.
      </p>
      <div className="relative mb-4 max-w-full overflow-x-auto">
        <Seg label="Records" value={type} options={types.map((t) => [t.key, t.label])} onChange={setType} />
      </div>
      <Trouble error={shape.error} />
      {shape.data && (
        <p className="mb-3 flex flex-wrap items-center gap-3">
          <span>
            <TypeIcon icon={shape.data.icon} size={20} />
            Called <strong>{shape.data.label}</strong>; one alone: <strong>{shape.data.one}</strong>.
          </span>
          <button type="button" className="link" onClick={() => setOpen("words")}>
            Call them otherwise
          </button>
          {shape.data.own && shape.data.stages.length === 0 && (
            <button type="button" className="link" onClick={() => setOpen("stages")}>
              Give them stages
            </button>
          )}
          {shape.data.own && (
            <button type="button" className="link" onClick={() => setOpen("drop")}>
              Take this record type away
            </button>
          )}
        </p>
      )}
      <ul className="sheet max-w-[860px]" aria-label="Fields">
        {fields.map((f) => (
          <li key={f.key} className="flex flex-wrap items-center gap-3 border-line border-b px-4 py-2 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="block font-semibold">
                {f.label}
                {f.added && <span className="ml-2 rounded bg-amber-soft px-1.5 py-0.5 text-xs">your own</span>}
                {f.retired && <span className="ml-2 rounded bg-line px-1.5 py-0.5 text-xs">retired</span>}
                {limitSaid(f.limit) && (
                  <span className="ml-2 font-normal text-[13px] text-rust">{limitSaid(f.limit)}</span>
                )}
              </span>
              <span className="block truncate text-[13px] text-ink2">
                {f.kind === "choice" && !f.worked
                  ? f.choices.map((c) => `${c.name} (${count(c.uses ?? 0)})`).join(" · ") || "no choices yet"
                  : said(f, schema.types.find((t) => t.key === f.to)?.label)}
              </span>
            </span>
            {me.role === "administrator" && !(f.needed && f.worked) && (
              <button type="button" className="btn btn-quiet" onClick={() => setLimiting(f)}>
                Who sees it<span className="sr-only">, {f.label}</span>
              </button>
            )}
            {f.kind === "choice" && !f.worked && (
              <button type="button" className="btn" onClick={() => setEditing(f)}>
                {f.stages ? "Change stages" : "Change choices"}
                <span className="sr-only"> of {f.label}</span>
              </button>
            )}
            {f.added && (
              <>
                <button type="button" className="btn" onClick={() => setOpen(f)}>
                  Change<span className="sr-only"> {f.label}</span>
                </button>
                {!(shape.data?.own && f.key === schema.types.find((t) => t.key === type)?.name) && (
                  <>
                    <button type="button" className="btn btn-quiet" onClick={() => setRetiring(f)}>
                      {f.retired ? "Offer again" : "Retire"}
                      <span className="sr-only"> {f.label}</span>
                    </button>
                    <button type="button" className="btn btn-quiet" disabled={dropping} onClick={() => drop(f)}>
                      Take away<span className="sr-only"> {f.label}</span>
                    </button>
                  </>
                )}
              </>
            )}
          </li>
        ))}
        {shape.data && fields.length === 0 && <li className="px-4 py-3 text-ink2">No field but a number.</li>}
      </ul>
      {retiring && shape.data && (
        <RetireDialog
          type={type}
          field={retiring}
          version={shape.data.version}
          onClose={() => setRetiring(undefined)}
          onDone={() => done()}
        />
      )}
      {limiting && shape.data && (
        <LimitDialog
          type={type}
          field={limiting}
          version={shape.data.version}
          onClose={() => setLimiting(undefined)}
          onDone={() => done()}
        />
      )}
      {(editing || open === "stages") && shape.data && (
        <ChoicesDialog
          type={type}
          field={editing}
          stages={shape.data.stages}
          version={shape.data.version}
          onClose={() => {
            setEditing(undefined);
            setOpen(undefined);
          }}
          onDone={() => done()}
        />
      )}
      {shape.data && (open === "field" || typeof open === "object") && (
        <FieldDialog
          type={type}
          field={open === "field" ? undefined : open}
          version={shape.data.version}
          onClose={() => setOpen(undefined)}
          onDone={() => done()}
        />
      )}
      {shape.data && open === "rail" && (
        <RailDialog version={shape.data.version} onClose={() => setOpen(undefined)} onDone={() => done()} />
      )}
      {shape.data && (open === "type" || open === "words") && (
        <TypeDialog
          type={open === "words" ? type : undefined}
          shape={open === "words" ? shape.data : undefined}
          version={shape.data.version}
          onClose={() => setOpen(undefined)}
          onDone={done}
        />
      )}
      {shape.data && open === "drop" && (
        <DropTypeDialog
          type={type}
          label={shape.data.label}
          version={shape.data.version}
          onClose={() => setOpen(undefined)}
          onDone={() => done("deals")}
        />
      )}
    </>
  );
}
