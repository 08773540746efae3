import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Brief, Refused, type Report } from "../../api/client";
import { useBoards, useFolders, useMe } from "../../api/hooks";
import { FolderField } from "../../ui/FolderField";
import { FormEnd } from "../../ui/FormEnd";
import { CheckField, LongField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Values = {
  title: string;
  description: string;
  folder: number;
  board: string;
  team: boolean;
  noDownload: boolean;
  shownFixed: boolean;
};

/** Names, describes and files a report. What the server refuses is said beside the field at fault. */
export function KeepDialog({
  report,
  from,
  brief,
  suggestion,
  about,
  board: onto,
  onClose,
  onKept,
}: {
  report?: Report;
  from?: Report;
  brief: Brief;
  suggestion: string;
  about?: string;
  /** The dashboard that it was begun for. */
  board?: string;
  onClose: () => void;
  onKept: (r: Report) => void;
}) {
  const composes = useMe().data?.mayCompose;
  const folders = (useFolders().data ?? []).filter((f) => f.mayChange || f.id === report?.folder);
  const was = report ?? from;
  const form = useForm<Values>({
    defaultValues: {
      title: report?.title ?? suggestion,
      description: was?.description ?? about ?? "",
      folder: was?.folder ?? 0,
      board: onto ?? "",
      team: was?.team ?? false,
      noDownload: was?.noDownload ?? false,
      shownFixed: was?.shownFixed ?? false,
    },
  });
  const client = useQueryClient();
  const boards = (useBoards().data ?? []).filter((b) => b.mayChange);
  const board = form.watch("board");
  const [shown, setShown] = useState(was?.shown ?? []);
  const uses = useQuery({
    queryKey: ["uses", report?.id],
    enabled: !!report,
    queryFn: () => ask(api.GET("/api/reports/{id}/uses", { params: { path: { id: report?.id as number } } })),
  });
  const change = useQuery({
    queryKey: ["difference", report?.brief, brief],
    enabled: !!report,
    queryFn: () => ask(api.POST("/api/difference", { body: { was: report?.brief as Brief, now: brief } })),
  });
  const stands = (uses.data?.uses.length ?? 0) + (uses.data?.hidden ?? 0) > 0;
  const keep = async ({ board, ...values }: Values) => {
    const body = { ...values, brief, shown, ...(from && !report ? { from: from.id } : {}) };
    const kept = await ask(
      report
        ? api.PUT("/api/reports/{id}", {
            params: { path: { id: report.id } },
            body: { ...body, version: report.version },
          })
        : api.POST("/api/reports", { body }),
    );
    if (board.trim()) {
      await ask(api.PUT("/api/reports/{id}/board", { params: { path: { id: kept.id } }, body: { name: board } })).then(
        (b) => {
          client.setQueryData(["board", b.id], b);
          toast(`Placed on “${b.title}”`);
        },
        (e) =>
          toast.error(
            `The report is saved, but could not be placed: ${e instanceof Refused ? e.message : "try again from “Place on…”"}`,
          ),
      );
    }
    return kept;
  };
  const { submit, busy } = useSend(form, keep, onKept);

  return (
    <Modal title={report ? "Save the change" : "Save report"} width={460} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="title" label="Title" maxLength={200} />
        <LongField form={form} name="description" label="Description" placeholder="What a reader should know" />
        <FolderField form={form} name="folder" folders={folders} />
        {!report && composes && (
          <>
            <TextField
              form={form}
              name="board"
              label="Dashboard"
              list="keep-boards"
              maxLength={200}
              placeholder="Not placed yet"
              help={
                !board.trim()
                  ? "Left empty, it can be placed later."
                  : boards.some((b) => b.title.toLowerCase() === board.trim().toLowerCase())
                    ? "It will stand on this dashboard."
                    : "A dashboard of this name is made for it."
              }
            />
            <datalist id="keep-boards">
              {boards.map((b) => (
                <option key={b.id} value={b.title} />
              ))}
            </datalist>
          </>
        )}
        <details className="mt-3" hidden={!composes}>
          <summary className="cursor-pointer text-ink2">More about it</summary>
          <div className="mt-2 space-y-1.5">
            <CheckField form={form} name="team" label="it is my team’s, who may change it" />
            <CheckField form={form} name="noDownload" label="readers may not download it" />
            <label className="flex items-center gap-2" style={{ opacity: brief.columns?.length ? 1 : 0.5 }}>
              <input
                type="checkbox"
                checked={shown.length > 0}
                disabled={!brief.columns?.length}
                onChange={(e) => setShown(e.target.checked ? (brief.columns ?? []) : [])}
              />
              behind a number, show the columns listed now
            </label>
            <CheckField
              form={form}
              name="shownFixed"
              label="… and readers may not change them"
              off={shown.length === 0}
            />
          </div>
        </details>
        {report && change.data && change.data.length > 0 && (
          <div className="mt-3 rounded-md bg-sunk px-3 py-2 text-[13px]">
            <p className="font-semibold">What changes{stands ? ", there too" : ""}</p>
            <ul>
              {change.data.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
            {stands && (
              <p className="mt-1">
                It stands on{" "}
                {uses.data?.uses
                  .map((u) => (u.pages ? `the pages of ${u.title.toLowerCase()}` : `“${u.title}”`))
                  .join(", ")}
                {(uses.data?.hidden ?? 0) > 0 && ` and ${uses.data?.hidden} you may not open`}, which will show this.
              </p>
            )}
          </div>
        )}
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
