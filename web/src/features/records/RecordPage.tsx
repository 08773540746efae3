import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, ask, type Brief, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { typeOf } from "../../fields/fields";
import { Table } from "../../table/Table";
import { NotYours, Trouble } from "../../ui/Say";
import { PanelBehind } from "../boards/PanelBehind";
import { PanelCard, type Picked } from "../boards/PanelCard";

/** One record: its fields, the reports that stand on its page, and the records linked to it. */
export function RecordPage() {
  const { type = "", id = "" } = useParams();
  const schema = useSchema();
  const [picked, setPicked] = useState<Picked>();
  const record = useQuery({
    queryKey: ["record", type, id],
    queryFn: () => ask(api.GET("/api/records/{type}/{id}", { params: { path: { type, id } } })),
  });
  if (record.error) return <Trouble error={record.error} />;
  const r = record.data;
  if (!r || !schema) return null;
  const backs = (typeOf(schema, type)?.backs ?? []).filter((b) => b.type !== "changes");
  return (
    <>
      <p className="text-[13px] text-ink2">
        <Link to={`/records/${type}`} className="hover:underline">
          {r.label}
        </Link>{" "}
        / {r.one} {r.id}
      </p>
      <h1 className="title mb-3 text-[26px]">{r.name}</h1>
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
