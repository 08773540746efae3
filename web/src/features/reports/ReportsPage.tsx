import { Popover } from "radix-ui";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useFolders, useMe, useReports, useSchema } from "../../api/hooks";
import { Empty, Trouble } from "../../ui/Say";

export function ReportsPage() {
  const reports = useReports();
  const folders = useFolders().data ?? [];
  const [search, setSearch] = useState("");
  const want = search.trim().toLowerCase();
  const found = (reports.data ?? []).filter((r) => `${r.title} ${r.description} ${r.text}`.toLowerCase().includes(want));
  return (
    <>
      <header className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">Reports</h1>
        <input
          className="input !w-64"
          type="search"
          placeholder="Find in titles and sentences"
          aria-label="Find a report"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <NewReport />
      </header>
      <Trouble error={reports.error} />
      {reports.data && found.length === 0 && (
        <div className="sheet">
          <Empty title={want ? "No report has these words" : "No reports yet"}>
            {want ? "Try fewer words." : "Start one from a record type, with “New report” above."}
          </Empty>
        </div>
      )}
      {folders.map((f) => {
        const here = found.filter((r) => r.folder === f.id);
        if (here.length === 0) return null;
        return (
          <section key={f.id} className="sheet mb-4" aria-label={`Folder ${f.name}`}>
            <h2 className="title border-line border-b px-4 py-2 text-[15px]">
              {f.name}
              {f.private && <span className="ml-2 font-normal text-ink3 text-xs">only you see these</span>}
            </h2>
            <ul>
              {here.map((r) => (
                <li key={r.id} className="border-line border-b px-4 py-2 last:border-0">
                  <Link to={`/reports/${r.id}`} className="link text-[15px] font-semibold">
                    {r.title}
                  </Link>
                  <span className="ml-2 text-ink3 text-xs">{r.owner}</span>
                  <p className="mt-0.5 text-ink2 text-[13px]">{r.description || r.text}</p>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}

function NewReport() {
  const schema = useSchema();
  const me = useMe().data;
  const go = useNavigate();
  if (!schema || !me) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="btn btn-main">New report</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="pop w-60 p-2" align="end" sideOffset={6}>
          <p className="title px-2 pb-1">Report over</p>
          {schema.types.map((t) => (
            <button key={t.key} type="button" className="pick" onClick={() => go(`/reports/new/${t.key}`)}>
              {t.label}
            </button>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
