import { useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Brief } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { begin, setCondition } from "../../brief/edits";
import { typeOf } from "../../fields/fields";
import { Table } from "../../table/Table";
import { RecordForm } from "./RecordForm";

/** All records of a type, found by name. */
export function RecordsPage() {
  const { type = "" } = useParams();
  const schema = useSchema();
  const t = schema && typeOf(schema, type);
  const [brief, setBrief] = useState<Brief>(begin(type));
  const [search, setSearch] = useState("");
  const [making, setMaking] = useState(false);
  const me = useMe().data;
  const go = useNavigate();
  const base = brief.start === type ? brief : begin(type);
  const shown = useMemo(
    () =>
      search.trim() && t?.name
        ? setCondition(base, -1, { field: t.name, is: "contains", values: [search.trim()] })
        : base,
    [base, search, t?.name],
  );
  if (!t) return null;
  return (
    <>
      <header className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">{t.label}</h1>
        {t.name && (
          <input
            className="input !w-64"
            type="search"
            aria-label={`Find ${t.label.toLowerCase()} by name`}
            placeholder="Find by name"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        )}
        <Link className="btn" to={`/reports/new/${type}`}>
          Report over {t.label.toLowerCase()}
        </Link>
        {t.written && (
          <button type="button" className="btn btn-main" onClick={() => setMaking(true)}>
            New {t.one}
          </button>
        )}
      </header>
      <div className="sheet p-2">
        <Table
          brief={shown}
          height="calc(100vh - 150px)"
          onChange={(b) => setBrief({ ...base, order: b.order, columns: b.columns })}
        />
      </div>
      {making && (
        <RecordForm
          type={t}
          names={me ? { owner: me.name } : {}}
          begun={t.owner && me ? { [t.owner]: String(me.id) } : {}}
          onClose={() => setMaking(false)}
          onDone={(id) => go(`/records/${type}/${id}`)}
        />
      )}
    </>
  );
}
