import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief, type Report, type Schemas } from "../../api/client";
import { Drawer } from "../../ui/Drawer";
import { RecordTable } from "./RecordTable";

/** What could mislead in a report, each with what to do. A warning dismissed for a kept report stays away. */
export function Warnings({ list, report, onChange }: { list: Schemas["WarningBody"][]; report?: Report; onChange: (b: Brief) => void }) {
  const client = useQueryClient();
  const [gone, setGone] = useState<string[]>([]);
  const [shown, setShown] = useState<Schemas["WarningBody"]>();
  const [all, setAll] = useState(false);
  const dismissed = useQuery({
    queryKey: ["dismissed", report?.id],
    enabled: !!report,
    queryFn: () => ask(api.GET("/api/reports/{id}/dismissed", { params: { path: { id: report?.id as number } } })),
  });
  const left = list.filter((w) => !gone.includes(w.code) && !dismissed.data?.includes(w.code));
  if (left.length === 0) return null;
  const dismiss = (code: string) => {
    setGone([...gone, code]);
    if (report?.mayChange)
      void ask(api.PUT("/api/reports/{id}/dismissed", { params: { path: { id: report.id } }, body: { code } })).then(() =>
        client.invalidateQueries({ queryKey: ["dismissed", report.id] }),
      );
  };
  const few = all ? left : left.slice(0, 2);
  return (
    <section aria-label="Warnings" className="my-2 rounded-md border border-[#ecd49a] bg-amber-soft/60">
      <ul>
        {few.map((w) => (
          <li key={w.code} className="flex items-center gap-3 border-[#ecd49a] border-b px-3 py-1.5 text-[13px] last:border-0">
            <strong aria-hidden="true">!</strong>
            <span className="mr-auto">{w.text}</span>
            {w.do && w.brief && (
              <button type="button" className="shrink-0 underline" onClick={() => (w.show ? setShown(w) : w.brief && onChange(w.brief))}>
                {w.do}
              </button>
            )}
            <button
              type="button"
              className="shrink-0 text-ink2"
              title={report?.mayChange ? "For this report, for everyone" : "For now"}
              onClick={() => dismiss(w.code)}
            >
              Dismiss
            </button>
          </li>
        ))}
      </ul>
      {left.length > few.length && (
        <button type="button" className="px-3 pb-1.5 text-[13px] underline" onClick={() => setAll(true)}>
          and {left.length - few.length} more
        </button>
      )}
      <Drawer open={!!shown} onClose={() => setShown(undefined)} title="The records it is about" note={shown?.text}>
        {shown?.brief && <RecordTable brief={shown.brief} height="calc(100vh - 190px)" />}
      </Drawer>
    </section>
  );
}
