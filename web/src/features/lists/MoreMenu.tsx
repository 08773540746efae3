import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, type Report, type TypeInfo } from "../../api/client";
import { later } from "../../ui/later";
import { Menu, MenuItem, MenuLabel } from "../../ui/Menu";

const SendDialog = later(() => import("../sends/SendDialog").then((m) => m.SendDialog));

/** What else there is of a record type: those entered twice, and the reports over it, those opened lately first; a list that is kept can be sent. */
export function MoreMenu({ type, kept }: { type: TypeInfo; kept?: Report }) {
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  const [sending, setSending] = useState(false);
  const found = useQuery({
    queryKey: ["find", "over", type.key],
    enabled: open,
    queryFn: () =>
      ask(api.GET("/api/find", { params: { query: { kind: "report", start: type.key, sort: "opened" } } })),
  });
  return (
    <>
      <Menu label={`More of ${type.label.toLowerCase()}`} text="More…" width={300} open={open} onOpen={setOpen}>
        <MenuItem label={`New report over ${type.label.toLowerCase()}`} onPick={() => go(`/reports/new/${type.key}`)} />
        {kept && <MenuItem label={`Send “${kept.title}”…`} onPick={() => setSending(true)} />}
        {type.written && type.name && (
          <MenuItem label={`${type.label} entered twice…`} onPick={() => go(`/duplicates/${type.key}`)} />
        )}
        <MenuLabel>Reports over {type.label.toLowerCase()}, opened lately first</MenuLabel>
        {found.data?.items.slice(0, 30).map((r) => (
          <MenuItem key={r.id} label={r.title} onPick={() => go(`/reports/${r.id}`)} />
        ))}
        {found.data?.items.length === 0 && <MenuLabel>There is none yet.</MenuLabel>}
      </Menu>
      {kept && sending && (
        <SendDialog
          kind="report"
          item={kept.id}
          title={kept.title}
          brief={kept.brief}
          onClose={() => setSending(false)}
        />
      )}
    </>
  );
}
