import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { NotYours } from "../../ui/Say";

type Field = Schemas["RecordFieldBody"];

/** The fields that matter first: its amount, its date, how likely it is, what it belongs to, whose it is. */
export function factsOf(type: TypeInfo, fields: Field[], id: string): string[] {
  const find = (ok: (f: Field) => boolean) => fields.find((f) => ok(f) && (f.text !== "" || f.hidden))?.key;
  const own = (f: Field) => !f.worked;
  const list = [
    find((f) => f.kind === "money" && own(f)),
    find((f) => f.kind === "date" && own(f)),
    find((f) => f.kind === "percent" && own(f)),
    find((f) => f.kind === "link" && own(f) && f.key !== type.owner && f.to !== id && !f.key.endsWith("_by")),
    find((f) => f.kind === "choice" && own(f) && !type.fields.some((x) => x.key === f.key && x.stages)),
    find((f) => f.kind === "number" && own(f)),
    type.owner,
  ];
  return list.filter((k): k is string => !!k && fields.some((f) => f.key === k && (f.text || f.hidden))).slice(0, 4);
}

/** What matters first of a record, and what is next. */
export function Facts({
  type,
  id,
  fields,
  keys,
  next,
}: {
  type: TypeInfo;
  id: string;
  fields: Field[];
  keys: string[];
  /** Whether what is planned next is told. */
  next: boolean;
}) {
  const plans = useQuery({
    queryKey: ["record", type.key, id, "timeline", "next"],
    enabled: next,
    queryFn: () =>
      ask(
        api.GET("/api/records/{type}/{id}/timeline", {
          params: { path: { type: type.key, id: Number(id) }, query: { what: "planned" } },
        }),
      ),
  }).data?.entries;
  // What comes next, or else what is overdue.
  const planned = plans?.findLast((e) => !e.late) ?? plans?.[0];
  return (
    <dl className="sheet mb-3 flex flex-wrap gap-y-2 px-4 py-2.5">
      {keys.map((key) => {
        const f = fields.find((f) => f.key === key);
        return (
          f && (
            <div key={key} className="min-w-[120px] flex-1 border-line border-l px-3 first:border-0 first:pl-0">
              <dt className="text-[12.5px] text-ink2">{f.label}</dt>
              <dd className="title truncate text-[17px]" title={f.text}>
                {f.hidden ? (
                  <NotYours />
                ) : f.to ? (
                  <Link className="text-sea hover:underline" to={`/records/${f.toType}/${f.to}`}>
                    {f.text}
                  </Link>
                ) : (
                  <>
                    {f.text}
                    {f.worth && <span className="ml-1.5 font-normal text-[12.5px] text-ink2">{f.worth}</span>}
                  </>
                )}
              </dd>
            </div>
          )
        );
      })}
      {next && (
        <div className="min-w-[150px] flex-1 border-line border-l px-3 first:border-0 first:pl-0">
          <dt className="text-[12.5px] text-ink2">Next</dt>
          <dd className="title text-[15px] leading-5" title={planned && `${planned.kind} ${planned.when}`}>
            {planned ? (
              <span className={planned.late ? "text-rust" : ""}>
                {planned.kind} {planned.when}
              </span>
            ) : (
              <span className="font-normal text-ink2">nothing planned</span>
            )}
          </dd>
        </div>
      )}
    </dl>
  );
}
