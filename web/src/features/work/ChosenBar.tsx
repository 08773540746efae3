import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief, type SchemaInfo, type TypeInfo } from "../../api/client";
import { fetchList, useMe } from "../../api/hooks";
import { type Chosen, countChosen, noneChosen } from "../../table/work";
import { count } from "../../ui/figures";
import { Modal } from "../../ui/Modal";
import { takeOut } from "../../ui/takeOut";
import { useDo } from "../../ui/useDo";
import { LogLine } from "./LogLine";
import { diaryOf } from "./logging";
import { ManyDialog } from "./ManyDialog";
import { Meter } from "./Meter";
import { takeBack } from "./takeBack";
import { useUnderWay } from "./useUnderWay";
import type { useUndo } from "./useUndo";

/** What can be done with the records that are chosen in a list. */
export function ChosenBar({
  schema,
  type,
  brief,
  chosen,
  onChoose,
  done,
}: {
  schema: SchemaInfo;
  type: TypeInfo;
  /** The list as it is shown. */
  brief: Brief;
  chosen: Chosen;
  onChoose: (next: Chosen) => void;
  done: ReturnType<typeof useUndo>;
}) {
  const me = useMe().data;
  const [field, setField] = useState<string>();
  const [planning, setPlanning] = useState(false);
  const diary = diaryOf(schema);
  // How many there are of all; not known at once.
  const total = useQuery({
    queryKey: ["list", brief, "count"],
    enabled: chosen.all,
    queryFn: ({ signal }) => fetchList(brief, undefined, 0, 1, signal),
  }).data?.total;
  const n = countChosen(chosen, total ?? 0);
  const ids = [...chosen.ids].map(Number);
  const which = chosen.all ? { brief, ...(ids.length ? { but: ids } : {}) } : { ids };
  const [asking, setAsking] = useState(false);
  const under = useUnderWay();
  const params = { path: { type: type.key } };
  const [drop] = useDo(
    () => {
      setAsking(false);
      return under.run((header) =>
        ask(api.DELETE("/api/records/{type}", { params: { ...params, header }, body: which })),
      );
    },
    ({ ids }) => {
      onChoose(noneChosen);
      done({
        words: `${count(ids.length)} ${ids.length === 1 ? type.one : type.label.toLowerCase()} deleted`,
        back: async () => {
          await ask(api.POST("/api/deleted-records/{type}/back", { params, body: { ids } }));
          return undefined;
        },
      });
    },
  );
  const owner = type.fields.find((f) => f.key === type.owner && f.written);
  const stages = type.fields.find((f) => f.stages);
  const act = "link font-semibold disabled:opacity-45";
  return (
    <section
      aria-label="Chosen records"
      className="mb-1 flex min-h-9 flex-wrap items-center gap-x-4 gap-y-1 rounded bg-sea-soft px-3 py-1 text-[13px]"
    >
      <strong aria-live="polite">{chosen.all && total === undefined ? "all" : count(n)} chosen</strong>
      {diary && type.logged && !chosen.all && n <= 200 && (
        <button type="button" className={act} onClick={() => setPlanning(true)}>
          Log or plan…
        </button>
      )}
      {type.written && (
        <>
          {stages && (
            <button type="button" className={act} onClick={() => setField(stages.key)}>
              {stages.label}…
            </button>
          )}
          {owner && (
            <button type="button" className={act} onClick={() => setField(owner.key)}>
              Hand over…
            </button>
          )}
          <button type="button" className={act} onClick={() => setField("")}>
            Change a field…
          </button>
          <button
            type="button"
            className={act}
            disabled={n > 10_000 || under.busy}
            title={n > 10_000 ? "Up to 10,000 are deleted at a time: narrow the list" : undefined}
            onClick={() => (chosen.all || n > 100 ? setAsking(true) : drop())}
          >
            Delete
          </button>
        </>
      )}
      {me?.mayCompose && (
        <button
          type="button"
          className={act}
          disabled={!chosen.all && n > 1000}
          onClick={() =>
            void takeOut(chosen.all ? brief : onlyThese(brief, ids), undefined, { view: "records", format: "xlsx" })
          }
        >
          Export
        </button>
      )}
      <Meter now={under.now} />
      <span className="ml-auto text-ink2">Escape lets go</span>
      {asking && (
        <Modal title={`Delete ${count(n)} ${type.label.toLowerCase()}?`} width={440} onClose={() => setAsking(false)}>
          <p>
            All of them go from lists, reports and dashboards. For 30 days they can be brought back, at once by Undo, or
            one by one from what was deleted lately.
          </p>
          <div className="mt-5 flex justify-end gap-2">
            <button type="button" className="btn btn-quiet" onClick={() => setAsking(false)}>
              Not now
            </button>
            <button type="button" className="btn btn-main" onClick={() => drop()}>
              Delete them
            </button>
          </div>
        </Modal>
      )}
      {planning && diary && (
        <Modal title={`Log or plan, of ${count(n)}`} width={560} onClose={() => setPlanning(false)}>
          <LogLine
            about={ids.map((id) => ({ type: type.key, id }))}
            diary={diary.key}
            done={done}
            focused
            onDone={() => setPlanning(false)}
          />
        </Modal>
      )}
      {field !== undefined && (
        <ManyDialog
          type={type}
          which={which}
          total={n}
          field={field || undefined}
          onClose={() => setField(undefined)}
          onDone={(many, words) => {
            setField(undefined);
            // Some may not be in the list any more.
            onChoose(noneChosen);
            done({ words, back: () => takeBack(type.key, many.changed) });
          }}
        />
      )}
    </section>
  );
}

/** A list of some records alone, in its columns and order. */
const onlyThese = (b: Brief, ids: number[]): Brief => ({
  version: 1,
  start: b.start,
  columns: b.columns,
  order: b.order,
  filter: { all: [{ field: "id", is: "any_of", values: ids.map(String) }] },
});
