import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Brief, type Schemas } from "../../api/client";
import { useAnswer, useReports, useSchema, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { Sentence } from "../../brief/Sentence";
import { FieldFinder } from "../../fields/FieldFinder";
import { FormTrouble, LongField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";

type Point = Schemas["PointBody"];

/** What of the sentence a starting point says: which records, which linked ones, whose, from when, under which conditions. */
const said = ["bring", "whose", "period", "filter"] as const;

/**
 * Makes or changes a starting point: records with their linked ones and conditions, their fields in their order, and first
 * questions taken from saved reports.
 */
export function PointEditor({ point, onClose }: { point?: Point; onClose: () => void }) {
  const schema = useSchema();
  const client = useQueryClient();
  const reports = useReports().data ?? [];
  const teams = useSubjects().filter((s) => s.kind === "team");
  const form = useForm({ defaultValues: { name: point?.name ?? "", about: point?.about ?? "" } });
  const [brief, setBrief] = useState<Brief>(point?.brief ?? { version: 1, start: "deals" });
  const answer = useAnswer(brief, 1);
  const [questions, setQuestions] = useState(point?.questions ?? []);
  const [who, setWho] = useState<number[]>(point?.teams ?? []);
  const done = (said: string) => {
    toast(said);
    anew(client, "points");
    onClose();
  };
  const [drop] = useDo(
    (id: number) => ask(api.DELETE("/api/starting-points/{id}", { params: { path: { id } } })),
    () => done("Taken away"),
  );
  const { submit, busy } = useSend(
    form,
    (values) => {
      const body = {
        ...values,
        brief,
        questions: questions.map(({ title, brief }) => ({ title, brief })),
        teams: who,
        place: point?.place ?? 0,
        version: point?.version ?? 0,
      };
      return point?.id
        ? ask(api.PUT("/api/starting-points/{id}", { params: { path: { id: point.id } }, body }))
        : ask(api.POST("/api/starting-points", { body }));
    },
    () => done("Saved"),
  );
  if (!schema) return null;
  const columns = brief.columns ?? [];
  const clauses = answer.data?.sentence.filter((c) => c.key === "records" || said.some((k) => k === c.key));
  return (
    <Modal title={point ? "Change the starting point" : "New starting point"} width={720} onClose={onClose}>
      <div className="grid gap-x-5 gap-y-3 md:grid-cols-2">
        <div>
          <TextField form={form} name="name" label="Name" maxLength={200} />
          <LongField form={form} name="about" label="What it is for" />
          <label className="mt-3 mb-1 block font-semibold" htmlFor="point-type">
            Record type
          </label>
          <select
            id="point-type"
            className="input"
            value={brief.start}
            onChange={(e) => setBrief({ version: 1, start: e.target.value })}
          >
            {schema.types.map((t) => (
              <option key={t.key} value={t.key}>
                {t.label}
              </option>
            ))}
          </select>
          <p className="mt-3 mb-1 font-semibold">Who sees it</p>
          {teams.map((t) => (
            <label key={t.id} className="mr-3 inline-flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={who.includes(t.id)}
                onChange={(e) => setWho(e.target.checked ? [...who, t.id] : who.filter((x) => x !== t.id))}
              />
              {t.name}
            </label>
          ))}
          <p className="text-ink2 text-xs">
            {who.length === 0 ? "Everyone sees it." : "Only these teams, and administrators."}
          </p>
        </div>
        <div>
          <p className="mb-1 font-semibold">Its fields, in this order</p>
          <ol className="mb-2">
            {columns.map((c, i) => (
              <li key={c.field} className="flex items-center gap-2">
                <span className="mr-auto">{c.field}</span>
                <button
                  type="button"
                  className="text-ink2 text-xs hover:underline"
                  disabled={i === 0}
                  onClick={() => {
                    const next = [...columns];
                    next.splice(i - 1, 0, ...next.splice(i, 1));
                    setBrief({ ...brief, columns: next });
                  }}
                >
                  up
                </button>
                <button
                  type="button"
                  className="text-ink2 text-xs hover:underline"
                  onClick={() => setBrief({ ...brief, columns: columns.filter((_, k) => k !== i) })}
                >
                  take out
                </button>
              </li>
            ))}
          </ol>
          <FieldFinder
            schema={schema}
            start={brief.start ?? "deals"}
            label="Find a field to offer"
            fits={(f) => !columns.some((c) => c.field === f.path)}
            onPick={(f) => setBrief({ ...brief, columns: [...columns, { field: f.path }] })}
          />
        </div>
      </div>
      <p className="mt-4 mb-1 font-semibold">Its linked records and conditions</p>
      <Trouble error={answer.error} />
      {clauses && <Sentence schema={schema} brief={brief} clauses={clauses} only={said} onChange={setBrief} />}
      <p className="mb-1 text-ink2 text-xs">
        A condition that is fixed here is fixed in every report that begins from it: its readers neither see it nor take
        it off.
      </p>
      <p className="mt-4 mb-1 font-semibold">First questions</p>
      <ul>
        {questions.map((q, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a question is its place
          <li key={i} className="mb-1 flex items-center gap-2">
            <input
              className="input"
              aria-label={`Question ${i + 1}`}
              value={q.title}
              onChange={(e) => setQuestions(questions.map((x, k) => (k === i ? { ...x, title: e.target.value } : x)))}
            />
            <button
              type="button"
              className="text-ink2 text-xs hover:underline"
              onClick={() => setQuestions(questions.filter((_, k) => k !== i))}
            >
              take out
            </button>
          </li>
        ))}
      </ul>
      {questions.length < 6 && (
        <select
          className="input"
          aria-label="Add a first question from a saved report"
          value=""
          onChange={(e) => {
            const r = reports.find((x) => String(x.id) === e.target.value);
            if (r) setQuestions([...questions, { title: r.title, brief: r.brief }]);
          }}
        >
          <option value="">Add one from a saved report …</option>
          {reports.map((r) => (
            <option key={r.id} value={r.id}>
              {r.title}
            </option>
          ))}
        </select>
      )}
      <FormTrouble form={form} />
      <div className="mt-5 flex gap-2">
        {point?.id && (
          <button type="button" className="btn btn-quiet mr-auto" onClick={() => drop(point.id as number)}>
            Take it away
          </button>
        )}
        <span className="ml-auto" />
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button type="button" className="btn btn-main" disabled={busy} onClick={submit}>
          Save
        </button>
      </div>
    </Modal>
  );
}
