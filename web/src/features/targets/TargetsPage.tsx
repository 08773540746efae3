import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief } from "../../api/client";
import { may, useMe, useMeasures } from "../../api/hooks";
import { anew } from "../../api/keys";
import { TypedSentence } from "../../brief/TypedSentence";
import { FormTrouble, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Empty, Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { TargetGrid } from "./TargetGrid";

/** Where administrators say what is to be reached: a measure at a time, by year, by whom. */
export function TargetsPage() {
  const me = useMe().data;
  const measures = useMeasures();
  const client = useQueryClient();
  const [params, setParams] = useSearchParams();
  const [open, setOpen] = useState<"new" | "name" | "drop">();
  if (!me) return null;
  if (!may(me, "targets"))
    return <Empty title="Targets are set by administrators">Ask one of them for a change.</Empty>;
  const list = measures.data ?? [];
  const chosen = list.find((m) => m.key === params.get("of")) ?? list[0];
  const show = (key: string | undefined) => {
    anew(client, "measures");
    setOpen(undefined);
    setParams(key ? { of: key } : {});
  };
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Targets</h1>
        {chosen && (
          <>
            <Link
              className="btn btn-quiet"
              to={`/reports/new/${chosen.start}?brief=${encodeURIComponent(JSON.stringify(chosen.brief))}`}
            >
              Report on it
            </Link>
            <button type="button" className="btn btn-quiet" onClick={() => setOpen("name")}>
              Rename
            </button>
            <button type="button" className="btn btn-quiet" onClick={() => setOpen("drop")}>
              Take away
            </button>
          </>
        )}
        <button type="button" className="btn" onClick={() => setOpen("new")}>
          Measure something more
        </button>
      </div>
      <Trouble error={measures.error} />
      {measures.isSuccess && list.length === 0 && (
        <Empty title="Nothing has targets yet">
          Say first what is measured, such as the value won. Then set what is to be reached, by month, for everyone, a
          team or a person.
        </Empty>
      )}
      {chosen && (
        <>
          <p className="sentence mb-4 !text-[17px] !leading-[30px]">
            For{" "}
            <select
              className="clause cursor-pointer bg-transparent"
              aria-label="What the targets are for"
              value={chosen.key}
              onChange={(e) => setParams({ of: e.target.value })}
            >
              {list.map((m) => (
                <option key={m.key} value={m.key}>
                  {m.name}
                </option>
              ))}
            </select>
            <span className="block font-[family-name:var(--font-text)] text-[13px] text-ink2 leading-5">
              {chosen.text}
            </span>
          </p>
          <TargetGrid key={chosen.key} measure={chosen.key} />
        </>
      )}
      {open === "new" && <NewMeasure onClose={() => setOpen(undefined)} onMade={show} />}
      {chosen && (open === "name" || open === "drop") && (
        <ChangeMeasure
          measure={chosen}
          drop={open === "drop"}
          onClose={() => setOpen(undefined)}
          onDone={() => show(open === "drop" ? undefined : chosen.key)}
        />
      )}
    </>
  );
}

function NewMeasure({ onClose, onMade }: { onClose: () => void; onMade: (key: string) => void }) {
  const form = useForm({ defaultValues: { name: "" } });
  const [make] = useDo(
    (brief: Brief) => ask(api.POST("/api/targets", { body: { name: form.getValues("name"), brief } })),
    (m) => {
      toast(`Targets can be set for “${m.name}” now`);
      onMade(m.key);
    },
  );
  return (
    <Modal title="What is measured?" width={680} onClose={onClose}>
      <TextField form={form} name="name" label="Its name" maxLength={60} placeholder="Won value" />
      <p className="mb-2 text-[13px] text-ink2">
        Then its records, the date they count by and the summary, typed as a sentence. Whose and which period come from
        each report.
      </p>
      <TypedSentence example="won deals closed this year, sum of value" action="Measure it" onRead={make} />
    </Modal>
  );
}

function ChangeMeasure({
  measure,
  drop,
  onClose,
  onDone,
}: {
  measure: { key: string; name: string; version: number };
  drop: boolean;
  onClose: () => void;
  onDone: () => void;
}) {
  const path = { params: { path: { key: measure.key } } };
  const form = useForm({ defaultValues: { name: measure.name } });
  const { submit, busy } = useSend(
    form,
    ({ name }): Promise<unknown> =>
      ask(
        drop
          ? api.DELETE("/api/targets/{key}", path)
          : api.PUT("/api/targets/{key}", { ...path, body: { name, version: measure.version } }),
      ),
    onDone,
  );
  return (
    <Modal title={drop ? `Take “${measure.name}” away?` : "Rename what is measured"} width={420} onClose={onClose}>
      <form onSubmit={submit}>
        {drop ? (
          <p className="mb-4">
            All of its targets go with it. Reports that go by it will say that they have no target.
          </p>
        ) : (
          <TextField form={form} name="name" label="Name" maxLength={60} />
        )}
        <FormTrouble form={form} />
        <div className="flex justify-end gap-2">
          <button type="button" className="btn btn-quiet" onClick={onClose}>
            Leave it
          </button>
          <button type="submit" className="btn btn-main" disabled={busy}>
            {drop ? "Take it away" : "Rename"}
          </button>
        </div>
      </form>
    </Modal>
  );
}
