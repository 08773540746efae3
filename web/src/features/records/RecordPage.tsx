import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { recordsAnew } from "../../api/keys";
import { typeOf } from "../../fields/fields";
import { Table } from "../../table/Table";
import { NotYours, Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { PanelBehind } from "../boards/PanelBehind";
import { PanelCard, type Picked } from "../boards/PanelCard";
import { MergeDialog } from "./MergeDialog";
import { RecordForm } from "./RecordForm";

/** One record: its fields, the reports that stand on its page, and the records linked to it. */
export function RecordPage() {
  const { type = "", id = "" } = useParams();
  const schema = useSchema();
  const [picked, setPicked] = useState<Picked>();
  const [changing, setChanging] = useState(false);
  const [merging, setMerging] = useState(false);
  const client = useQueryClient();
  const go = useNavigate();
  const record = useQuery({
    queryKey: ["record", type, id],
    queryFn: () => ask(api.GET("/api/records/{type}/{id}", { params: { path: { type, id } } })),
  });
  const at = { params: { path: { type, id: Number(id) } } };
  const back = useMutation({
    mutationFn: () => ask(api.POST("/api/deleted-records/{type}/{id}/back", at)),
    onSuccess: () => {
      recordsAnew(client);
      go(`/records/${type}/${id}`);
    },
    onError: tell,
  });
  const drop = useMutation({
    mutationFn: () =>
      ask(api.DELETE("/api/records/{type}", { params: { path: { type } }, body: { ids: [Number(id)] } })),
    onSuccess: () => {
      recordsAnew(client);
      go(`/records/${type}`);
      toast("Deleted. It can be brought back for 30 days.", {
        action: { label: "Undo", onClick: () => back.mutate() },
      });
    },
    onError: tell,
  });
  if (record.error) return <Trouble error={record.error} />;
  const r = record.data;
  if (!r || !schema) return null;
  const info = typeOf(schema, type);
  const backs = (info?.backs ?? []).filter((b) => b.type !== "changes");
  return (
    <>
      <p className="text-[13px] text-ink2">
        <Link to={`/records/${type}`} className="hover:underline">
          {r.label}
        </Link>{" "}
        / {r.one} {r.id}
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[26px]">{r.name || `${r.one} ${r.id}`}</h1>
        {info?.written && (
          <>
            <button type="button" className="btn btn-quiet" disabled={drop.isPending} onClick={() => drop.mutate()}>
              Delete
            </button>
            <button type="button" className="btn" onClick={() => setMerging(true)}>
              Merge…
            </button>
            <button type="button" className="btn btn-main" onClick={() => setChanging(true)}>
              Change
            </button>
          </>
        )}
      </div>
      <div className="grid gap-4 min-[1100px]:grid-cols-[340px_1fr]">
        <Fields record={r} />
        <div className="min-w-0">
          {r.panels.map((p) => (
            <div key={p.report} className="mb-4" style={{ height: 340 }}>
              <PanelCard report={p.report} record={{ type, id }} onPick={setPicked} />
            </div>
          ))}
          {backs.map((b) => (
            <Linked
              key={b.key}
              label={b.label}
              brief={{ version: 1, start: b.type, filter: { all: [{ field: b.via, is: "any_of", values: [id] }] } }}
            />
          ))}
        </div>
      </div>
      {changing && info && (
        <RecordForm
          type={info}
          id={id}
          names={Object.fromEntries(r.fields.filter((f) => f.to).map((f) => [f.key, f.text]))}
          onClose={() => setChanging(false)}
          onDone={() => setChanging(false)}
        />
      )}
      {merging && info && (
        <MergeDialog type={info} id={id} name={r.name || `${r.one} ${r.id}`} onClose={() => setMerging(false)} />
      )}
      <PanelBehind picked={picked} onClose={() => setPicked(undefined)} />
    </>
  );
}

function Fields({ record }: { record: Schemas["RecordBody"] }) {
  return (
    <dl className="sheet self-start px-4 py-2">
      {record.fields.map((f) => (
        <div key={f.key} className="grid grid-cols-[130px_1fr] gap-2 border-line border-b py-1.5 last:border-0">
          <dt className="text-ink2" title={f.description}>
            {f.label}
          </dt>
          <dd className="min-w-0 break-words">
            {f.hidden ? (
              <NotYours />
            ) : f.to ? (
              <Link className="link" to={`/records/${f.toType}/${f.to}`}>
                {f.text}
              </Link>
            ) : (
              f.text || <span className="text-ink3">–</span>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Linked({ label, brief }: { label: string; brief: Brief }) {
  const [shown, setShown] = useState(true);
  return (
    <section className="sheet mb-4 p-3" aria-label={label}>
      <h2 className="title mb-1 text-[15px]">
        <button type="button" aria-expanded={shown} onClick={() => setShown(!shown)}>
          {label} {shown ? "▾" : "▸"}
        </button>
      </h2>
      {shown && <Table brief={brief} height={190} />}
    </section>
  );
}
