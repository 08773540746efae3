import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Board, type Report } from "../../api/client";
import { may, useBoards, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { useDo } from "../../ui/useDo";
import { ClosedAt } from "../boards/ClosedAt";
import { nextPlace } from "../boards/layout";

/** Places a kept report: on a dashboard there is, on a new one, or on the pages of a record type. */
export function PlaceMenu({ report }: { report: Report }) {
  const me = useMe().data;
  const client = useQueryClient();
  const boards = useBoards().data ?? [];
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const pages = useQuery({
    queryKey: ["report-pages", report.id],
    enabled: open && may(me, "lay_out"),
    queryFn: () => ask(api.GET("/api/reports/{id}/pages", { params: { path: { id: report.id } } })),
  });
  const done = (b: Board) => {
    anew(client, "boards");
    client.setQueryData(["board", b.id], b);
    setOpen(false);
    toast(`Placed on “${b.title}”`);
    go(`/dashboards/${b.id}`);
  };
  const [onto] = useDo(
    (b: Board) =>
      ask(api.POST("/api/boards/{id}/panels", { params: { path: { id: b.id } }, body: { report: report.id } })),
    done,
  );
  const [fresh] = useDo(
    () =>
      ask(
        api.POST("/api/boards", { body: { title: name, folder: report.folder, panels: [nextPlace([], report.id)] } }),
      ),
    done,
  );
  const [page] = useDo(
    ({ type, on }: { type: string; on: boolean }) => {
      const at = { params: { path: { type, report: report.id } } };
      return ask(on ? api.DELETE("/api/pages/{type}/{report}", at) : api.PUT("/api/pages/{type}/{report}", at));
    },
    () => anew(client, "report-pages", "closed at", "uses", "find"),
  );
  if (!me?.mayCompose) return null;

  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="btn">Place on…</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="pop w-80 p-3" align="end" sideOffset={6} aria-label="Place the report">
          <p className="title mb-1 px-1">A dashboard</p>
          {boards
            .filter((b) => b.mayChange)
            .map((b) => (
              <button key={b.id} type="button" className="pick" onClick={() => onto(b)}>
                <span>{b.title}</span>
                <span className="text-ink3 text-xs">{b.panels.length} panels</span>
              </button>
            ))}
          <form
            className="mt-1 flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              fresh();
            }}
          >
            <input
              className="input"
              aria-label="Name of the new dashboard"
              placeholder="A new dashboard named …"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <button type="submit" className="btn btn-main" disabled={!name.trim()}>
              Make
            </button>
          </form>
          {may(me, "lay_out") && pages.data && (
            <>
              <p className="title mt-4 mb-1 px-1">The page of each record</p>
              {pages.data.map((p) => (
                <button
                  key={p.type}
                  type="button"
                  role="checkbox"
                  aria-checked={p.on}
                  className="pick"
                  onClick={() => page(p)}
                >
                  <span>{p.label}</span>
                  <span className="text-ink3 text-xs">{p.on ? "stands there" : ""}</span>
                </button>
              ))}
              <ClosedAt report={report} />
              {pages.data.length === 0 && (
                <p className="px-1 text-ink2">Its records are linked to no other record type.</p>
              )}
            </>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
