import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, type ListPage, type SchemaInfo, type Schemas } from "../../api/client";
import { fetchList } from "../../api/hooks";
import { recordsAnew } from "../../api/keys";
import { typeOf } from "../../fields/fields";
import { count } from "../../ui/figures";
import { useDo } from "../../ui/useDo";
import { listAt } from "../work/everything";

type Waiting = Schemas["WaitingBody"];

/** How many of a list are shown. */
const few = 5;

/** One list of what waits: the first few, and the way to all of them. */
export function WaitingList({ schema, waiting: w }: { schema: SchemaInfo; waiting: Waiting }) {
  const brief = w.brief as Brief;
  const type = typeOf(schema, brief.start);
  const list = useQuery({
    queryKey: ["list", brief, "home"],
    queryFn: ({ signal }) => fetchList(brief, undefined, 0, few, signal),
  });
  if (!type || !list.data) return null;
  const { rows, total } = list.data;
  // What is not there takes no room.
  if (total === 0)
    return (
      <section aria-label={w.title}>
        <h2 className="sr-only">{w.title}</h2>
        <p className="px-4 text-[13px] text-ink2">{w.empty}</p>
      </section>
    );
  return (
    <section className="sheet px-4 py-2.5" aria-label={w.title}>
      <h2 className="title flex items-baseline gap-2 text-[15px]">
        {w.title}
        <span className={`font-normal text-[13px] ${w.key === "overdue" ? "text-rust" : "text-ink2"}`}>
          {count(total)}
        </span>
        {total > few && (
          <Link className="link ml-auto font-normal text-[13px]" to={listAt(type, brief)}>
            All of them
          </Link>
        )}
      </h2>
      <ul>
        {rows.map((r) =>
          type.diary ? (
            <Planned key={r.id} row={r} page={list.data} done={type.diary.done} late={w.key === "overdue"} />
          ) : (
            <Waits key={r.id} row={r} page={list.data} />
          ),
        )}
      </ul>
    </section>
  );
}

type Row = ListPage["rows"][0];

/** Something that is planned: when, what and about whom, with the way to mark it done. */
function Planned({ row, page, done, late }: { row: Row; page: ListPage; done: string; late: boolean }) {
  const client = useQueryClient();
  const [mark] = useDo(
    () =>
      ask(
        api.PATCH("/api/records/{type}/{id}", {
          params: { path: { type: page.type, id: Number(row.id) } },
          body: { values: { [done]: "true" } },
        }),
      ),
    () => {
      recordsAnew(client);
      toast("Marked done");
    },
  );
  const [when, kind, about] = row.cells;
  const links = row.cells.flatMap((c, i) => (c.id && i > 2 ? [{ ...c, to: page.columns[i].to }] : []));
  return (
    <li className="flex items-baseline gap-x-2 border-line border-b py-1 last:border-0 max-sm:flex-wrap">
      <span className={`w-[124px] max-sm:w-full shrink-0 truncate text-[12.5px] ${late ? "text-rust" : "text-ink2"}`}>
        {when?.text}
      </span>
      <span className="flex min-w-0 flex-1 gap-1.5" title={[kind?.text, about?.text].join(": ")}>
        <Link className="shrink-0 font-semibold hover:underline" to={`/records/${page.type}/${row.id}`}>
          {kind?.text || "Activity"}
        </Link>
        <span className="max-w-[48%] shrink-0 truncate">{about?.text}</span>
        {links.map((l) => (
          <Link
            key={l.to}
            className="min-w-0 truncate text-ink2 before:mr-1.5 before:content-['·'] hover:underline"
            to={`/records/${l.to}/${l.id}`}
          >
            {l.text}
          </Link>
        ))}
      </span>
      <button
        type="button"
        className="link min-h-6 shrink-0 font-semibold text-[13px]"
        aria-label={`Done: ${kind?.text} ${about?.text}`}
        onClick={() => mark()}
      >
        Done
      </button>
    </li>
  );
}

/** A record that waits, with what says why. */
const Waits = ({ row, page }: { row: Row; page: ListPage }) => (
  <li className="flex items-baseline gap-3 border-line border-b py-1 last:border-0">
    <Link
      className="link min-w-[90px] flex-1 truncate"
      to={`/records/${page.type}/${row.id}`}
      title={row.cells[0]?.text}
    >
      {row.cells[0]?.text || `number ${row.id}`}
    </Link>
    {row.cells.slice(1).map((c, i) => (
      <span
        key={page.columns[i + 1].field}
        className={`shrink-0 truncate text-[13px] text-ink2 ${page.columns[i + 1].number ? "w-[92px] text-right" : "max-w-[150px] max-sm:hidden"}`}
        title={`${page.columns[i + 1].label}: ${c.text}`}
      >
        {c.text}
      </span>
    ))}
  </li>
);
