import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Brief, type SchemaInfo, type Schemas } from "../../api/client";
import { typeOf } from "../../fields/fields";
import { endsOfDays } from "../../fields/MomentPicker";
import { noneChosen } from "../../table/work";
import { Drawer } from "../../ui/Drawer";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { ChosenBar } from "../work/ChosenBar";
import { useUndo } from "../work/useUndo";
import { Bridge } from "./Bridge";
import { ByGroup } from "./ByGroup";
import { HeldUp } from "./HeldUp";
import { StageToStage } from "./StageToStage";
import { Stood } from "./Stood";

type Step = Schemas["MoveStepBody"];
type Moment = Brief["since"];

/** What led from what a report found on one day to what it finds on another: each record in one step. */
export function Moved({
  schema,
  brief,
  today,
  begun,
  onClose,
}: {
  schema: SchemaInfo;
  brief: Brief;
  /** The organisation's day. */
  today: string;
  /** The step whose records are open at first. */
  begun?: string;
  onClose: () => void;
}) {
  const [since, setSince] = useState<Moment>(brief.since ?? "last_week");
  const [asOf, setAsOf] = useState<Moment>(brief.asOf);
  const [step, setStep] = useState(begun);
  const [how, setHow] = useState<"moved" | "groups" | "stages" | "held" | "stood">("moved");
  const [by, setBy] = useState(brief.groups?.[0]?.field ?? "");
  const [cell, setCell] = useState<{ step: string; group: string; words: string }>();
  const fields = (typeOf(schema, brief.start)?.fields ?? []).filter(
    (f) => (f.kind === "choice" || (f.kind === "link" && !f.key.endsWith("_by"))) && !f.retired,
  );
  const staged = typeOf(schema, brief.start)?.fields.some((f) => f.stages);
  const own = brief.groups?.[0];
  const group = by || fields[0]?.key;
  const asked: Brief = { ...brief, since, ...(asOf ? { asOf } : {}) };
  if (!asOf) delete asked.asOf;
  const moves = useQuery({
    queryKey: ["moves", asked],
    queryFn: () => ask(api.POST("/api/moves", { body: { brief: asked } })),
    retry: false,
    placeholderData: (was) => was,
    enabled: how === "moved",
  });
  const m = moves.data;
  const cut: Brief = { ...asked, groups: own && own.field === group ? [own] : [{ field: group }] };
  const named = endsOfDays.some(([word]) => word === since);
  const open = m?.steps.find((s) => s.step === step);
  return (
    <Drawer open onClose={onClose} title="What moved">
      <div className="mt-2 mb-2 flex flex-wrap items-center gap-2" hidden={how !== "moved" && how !== "groups"}>
        <label className="flex items-center gap-2">
          <span className="text-ink2">from</span>
          <select
            className="input !w-52"
            aria-label="From"
            value={named ? String(since) : "day"}
            onChange={(e) => {
              setStep(undefined);
              setSince(e.target.value === "day" ? before(today) : e.target.value);
            }}
          >
            {endsOfDays.map(([word, label]) => (
              <option key={word} value={word}>
                {label}
              </option>
            ))}
            <option value="day">a day…</option>
          </select>
        </label>
        {!named && (
          <input
            type="date"
            className="input !w-40"
            aria-label="From the end of"
            max={today}
            value={typeof since === "string" ? since : ""}
            onChange={(e) => e.target.value && setSince(e.target.value)}
          />
        )}
        <label className="flex items-center gap-2">
          <span className="text-ink2">to</span>
          <input
            type="date"
            className="input !w-40"
            aria-label="To the end of; empty for now"
            max={today}
            value={typeof asOf === "string" && /^\d/.test(asOf) ? asOf : ""}
            onChange={(e) => {
              setStep(undefined);
              setAsOf(e.target.value || undefined);
            }}
          />
          {!asOf && <span>now</span>}
        </label>
      </div>
      <div className="mt-2 mb-2 flex">
        <Seg
          label="How it is told"
          value={how}
          onChange={(v) => setHow(v as typeof how)}
          options={[
            ["moved", "Step by step"],
            ...((group ? [["groups", "By group"]] : []) as ["groups", string][]),
            ...((staged ? [["stages", "Stage to stage"]] : []) as ["stages", string][]),
            ...((staged ? [["held", "How it held"]] : []) as ["held", string][]),
            ["stood", "How it stood"],
          ]}
        />
      </div>
      {how === "groups" && (
        <>
          <label className="mb-2 flex items-center gap-2">
            <span className="text-ink2">by</span>
            <select
              className="input !w-52"
              aria-label="By which group"
              value={group}
              onChange={(e) => {
                setCell(undefined);
                setBy(e.target.value);
              }}
            >
              {own && !fields.some((f) => f.key === own.field) && <option value={own.field}>as the report</option>}
              {fields.map((f) => (
                <option key={f.key} value={f.key}>
                  {f.label.toLowerCase()}
                </option>
              ))}
            </select>
          </label>
          <ByGroup brief={cut} open={cell} onOpen={setCell} />
          {cell && (
            <Records key={`${cell.step} ${cell.group}`} schema={schema} brief={cut} step={cell} group={cell.group} />
          )}
        </>
      )}
      {how === "stages" && <StageToStage brief={brief} fields={fields} />}
      {how === "held" && <HeldUp brief={brief} />}
      {how === "stood" && <Stood brief={brief} fields={fields} />}
      <Trouble error={how === "moved" && moves.error} />
      {how === "moved" && !m && moves.isPending && <p className="mt-3 text-ink2">Working it out …</p>}
      {how === "moved" && m && !moves.error && (
        <div style={{ opacity: moves.isPlaceholderData ? 0.5 : 1 }}>
          <p className="sentence mt-3 mb-3">{m.text}</p>
          <Bridge steps={m.steps} summaries={m.summaries} drawn={m.drawn || "records"} open={step} onOpen={setStep} />
          {open && <Records key={open.step} schema={schema} brief={asked} step={open} />}
        </div>
      )}
    </Drawer>
  );
}

const before = (day: string) => {
  const at = new Date(`${day}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() - 7);
  return at.toISOString().slice(0, 10);
};

const page = 100;

/** The records of a step, what each had and has; those that are chosen can be worked with. */
function Records({
  schema,
  brief,
  step,
  group,
}: {
  schema: SchemaInfo;
  brief: Brief;
  step: Pick<Step, "step" | "words">;
  /** Of which group; of all where it is left out. */
  group?: string;
}) {
  const [from, setFrom] = useState(0);
  const [chosen, setChosen] = useState(noneChosen);
  const done = useUndo();
  const moved = useQuery({
    queryKey: ["moved", brief, step.step, group, from],
    queryFn: () =>
      ask(
        api.POST("/api/moves/records", {
          body: { brief, step: step.step, ...(group ? { group } : {}), from, count: page },
        }),
      ),
    placeholderData: (was) => was,
  });
  const m = moved.data;
  if (!m) return <Trouble error={moved.error} />;
  const type = typeOf(schema, m.type);
  const there = m.records.filter((r) => r.there);
  const all = there.length > 0 && there.every((r) => chosen.ids.has(r.id));
  const choose = (ids: Set<string>) => setChosen({ ...noneChosen, ids });
  return (
    <section aria-label={`Records: ${step.words}`} className="mt-5">
      <h3 className="title mb-1 text-[17px]">
        {step.words} <span className="font-normal text-ink2 text-[14px]">{count(m.count)}</span>
      </h3>
      {type && chosen.ids.size > 0 && (
        <ChosenBar
          schema={schema}
          type={type}
          brief={{
            version: 1,
            start: m.type,
            filter: { field: "id", is: "any_of", values: [...chosen.ids] },
          }}
          chosen={chosen}
          onChoose={setChosen}
          done={done}
        />
      )}
      <table className="w-full border-collapse text-[14px]">
        <thead>
          <tr className="text-left text-[12px] text-ink2">
            <th className="w-8 font-normal">
              <input
                type="checkbox"
                aria-label="All of them"
                checked={all}
                disabled={there.length === 0}
                onChange={() => choose(all ? new Set() : new Set(there.map((r) => r.id)))}
              />
            </th>
            <th className="py-1 pr-3 font-normal">{type?.one}</th>
            {m.field && <th className="px-2 font-normal">{m.field}</th>}
            {m.amount && (
              <>
                <th className="px-2 text-right font-normal">{m.amount}, counted then</th>
                <th className="px-2 text-right font-normal">counted now</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {m.records.map((r) => (
            <tr key={r.id} className="border-line border-t">
              <td>
                {r.there && (
                  <input
                    type="checkbox"
                    aria-label={`Choose ${r.name}`}
                    checked={chosen.ids.has(r.id)}
                    onChange={() => {
                      const ids = new Set(chosen.ids);
                      if (!ids.delete(r.id)) ids.add(r.id);
                      choose(ids);
                    }}
                  />
                )}
              </td>
              <td className="py-1 pr-3">
                {r.there ? (
                  <Link className="link" to={`/records/${m.type}/${r.id}`}>
                    {r.name}
                  </Link>
                ) : (
                  r.name
                )}
              </td>
              {m.field && (
                <td className="px-2">
                  {r.was === r.is ? (
                    r.is
                  ) : (
                    <>
                      <span className="text-ink2">{r.was || "empty"}</span> → {r.is || "empty"}
                    </>
                  )}
                </td>
              )}
              {m.amount && (
                <>
                  <td className="figures px-2 text-right text-ink2">{r.countedThen || "–"}</td>
                  <td className="figures px-2 text-right">{r.countedNow || "–"}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {m.count > page && (
        <p className="mt-2 flex items-center gap-3 text-[13px]">
          <button type="button" className="btn" disabled={from === 0} onClick={() => setFrom(from - page)}>
            Before
          </button>
          {count(from + 1)} to {count(Math.min(from + page, m.count))} of {count(m.count)}
          <button type="button" className="btn" disabled={from + page >= m.count} onClick={() => setFrom(from + page)}>
            After
          </button>
        </p>
      )}
    </section>
  );
}
