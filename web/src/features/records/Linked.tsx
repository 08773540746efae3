import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Brief, SchemaInfo, Schemas, TypeInfo } from "../../api/client";
import { fetchList } from "../../api/hooks";
import { typeOf } from "../../fields/fields";
import { count } from "../../ui/figures";
import { everything, listAt } from "../work/everything";
import { RecordForm } from "./RecordForm";

/** How many of them are shown. */
const few = 5;

/** Records that link to this one, the newest first: a few, how many there are, and the way to all and to another. */
export function Linked({
  schema,
  back,
  id,
  name,
}: {
  schema: SchemaInfo;
  back: Schemas["Back"];
  id: string;
  name: string;
}) {
  const type = typeOf(schema, back.type);
  const go = useNavigate();
  const [making, setMaking] = useState(false);
  const brief = type && listOf(type, back.via, id);
  const list = useQuery({
    queryKey: ["list", brief, "linked"],
    enabled: !!brief,
    queryFn: ({ signal }) => fetchList(brief as Brief, undefined, 0, few, signal),
  });
  if (!type || !brief || !list.data) return null;
  const { rows, total, columns } = list.data;
  return (
    <section className="sheet px-4 py-2.5" aria-label={back.label}>
      <h2 className="title flex items-baseline gap-2 text-[15px]">
        {back.label}
        <span className="font-normal text-[13px] text-ink2">{total > 0 ? count(total) : "none"}</span>
        {type.written && (
          <button
            type="button"
            className="link ml-auto font-normal text-[13px]"
            aria-label={`Add ${type.one}`}
            onClick={() => setMaking(true)}
          >
            Add
          </button>
        )}
      </h2>
      {rows.length > 0 && (
        <ul>
          {rows.map((r) => (
            <li key={r.id} className="flex items-baseline gap-2 border-line border-b py-1 last:border-0">
              <Link
                className="link min-w-0 flex-1 truncate"
                to={`/records/${type.key}/${r.id}`}
                title={r.cells[0]?.text}
              >
                {r.cells[0]?.text || `number ${r.id}`}
              </Link>
              {r.cells.slice(1).map(
                (cell, i) =>
                  cell.text && (
                    <span
                      key={columns[i + 1]?.field}
                      className="max-w-[96px] shrink-0 truncate text-[12.5px] text-ink2"
                      title={`${columns[i + 1]?.label}: ${cell.text}`}
                    >
                      {cell.text}
                    </span>
                  ),
              )}
            </li>
          ))}
        </ul>
      )}
      {total > few && (
        <Link className="link text-[13px]" to={listAt(type, { ...everything(type), filter: brief.filter })}>
          All {count(total)}
        </Link>
      )}
      {making && (
        <RecordForm
          type={type}
          names={{ [back.via]: name }}
          begun={{ [back.via]: id }}
          onClose={() => setMaking(false)}
          onDone={(made) => go(`/records/${type.key}/${made}`)}
        />
      )}
    </section>
  );
}

/** The records that link to one, without the column that is the same on every row: the name, then what says most of it. */
function listOf(type: TypeInfo, via: string, id: string): Brief {
  const named = type.name || type.fields.find((f) => f.kind === "link" && f.key !== via)?.key || "id";
  const says =
    type.fields.find((f) => f.stages) ??
    type.fields.find((f) => f.kind === "choice" && f.written) ??
    type.fields.find((f) => f.kind === "number" && f.written);
  const amount = type.fields.find((f) => f.kind === "money" && !f.worked);
  return {
    version: 1,
    start: type.key,
    filter: { all: [{ field: via, is: "any_of", values: [id] }] },
    columns: [named, says?.key, amount?.key].filter((f): f is string => !!f).map((field) => ({ field })),
    ...(type.fields.some((f) => f.key === "created") ? { order: [{ field: "created", desc: true }] } : {}),
  };
}
