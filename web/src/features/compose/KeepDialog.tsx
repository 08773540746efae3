import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Brief, Refused, type Report } from "../../api/client";
import { useBoards, useFolders, useMe } from "../../api/hooks";
import { Modal } from "../../ui/Modal";

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
  const [title, setTitle] = useState(report?.title ?? suggestion);
  const [description, setDescription] = useState((report ?? from)?.description ?? about ?? "");
  const [folder, setFolder] = useState(report?.folder ?? from?.folder ?? 0);
  const [refused, setRefused] = useState<Refused>();
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const [team, setTeam] = useState((report ?? from)?.team ?? false);
  const [noDownload, setNoDownload] = useState((report ?? from)?.noDownload ?? false);
  const [shownFixed, setShownFixed] = useState((report ?? from)?.shownFixed ?? false);
  const [board, setBoard] = useState(onto ?? "");
  const boards = (useBoards().data ?? []).filter((b) => b.mayChange);
  const [shown, setShown] = useState((report ?? from)?.shown ?? []);
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
  // Where one may not put anything into the folder it was in, the first of one’s own is offered.
  const chosen = folders.some((f) => f.id === folder) ? folder : (folders[0]?.id ?? 0);
  const said = (pointer: string) => refused?.problem.errors?.find((e) => e.pointer === pointer)?.message;

  async function keep(e: FormEvent) {
    e.preventDefault();
    setBusy(true);
    try {
      const body = {
        title,
        description,
        folder: chosen,
        brief,
        team,
        noDownload,
        shown,
        shownFixed,
        ...(from && !report ? { from: from.id } : {}),
      };
      const kept = await ask(
        report
          ? api.PUT("/api/reports/{id}", {
              params: { path: { id: report.id } },
              body: { ...body, version: report.version },
            })
          : api.POST("/api/reports", { body }),
      );
      if (board.trim()) {
        await ask(
          api.PUT("/api/reports/{id}/board", { params: { path: { id: kept.id } }, body: { name: board } }),
        ).then(
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
      onKept(kept);
    } catch (err) {
      if (err instanceof Refused) setRefused(err);
    } finally {
      setBusy(false);
    }
  }

  return (
    <Modal title={report ? "Save the change" : "Save report"} width={460} onClose={onClose}>
      <form onSubmit={keep}>
        <label className="mb-1 block font-semibold" htmlFor="keep-title">
          Title
        </label>
        <input
          id="keep-title"
          className="input"
          value={title}
          maxLength={200}
          onChange={(e) => setTitle(e.target.value)}
          aria-invalid={!!said("/title")}
        />
        {said("/title") && (
          <p role="alert" className="mt-1 text-rust">
            {said("/title")}
          </p>
        )}
        <label className="mt-3 mb-1 block font-semibold" htmlFor="keep-description">
          Description
        </label>
        <textarea
          id="keep-description"
          className="input"
          rows={2}
          value={description}
          onChange={(e) => setDescription(e.target.value)}
          placeholder="What a reader should know"
        />
        <label className="mt-3 mb-1 block font-semibold" htmlFor="keep-folder">
          Folder
        </label>
        <select id="keep-folder" className="input" value={chosen} onChange={(e) => setFolder(Number(e.target.value))}>
          {folders.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name} {f.private ? "(only you)" : ""}
            </option>
          ))}
        </select>
        {!report && composes && (
          <>
            <label className="mt-3 mb-1 block font-semibold" htmlFor="keep-board">
              Dashboard
            </label>
            <input
              id="keep-board"
              className="input"
              list="keep-boards"
              value={board}
              maxLength={200}
              placeholder="Not placed yet"
              onChange={(e) => setBoard(e.target.value)}
            />
            <datalist id="keep-boards">
              {boards.map((b) => (
                <option key={b.id} value={b.title} />
              ))}
            </datalist>
            <p className="mt-1 text-ink2 text-xs">
              {!board.trim()
                ? "Left empty, it can be placed later."
                : boards.some((b) => b.title.toLowerCase() === board.trim().toLowerCase())
                  ? "It will stand on this dashboard."
                  : "A dashboard of this name is made for it."}
            </p>
          </>
        )}
        <details className="mt-3" hidden={!composes}>
          <summary className="cursor-pointer text-ink2">More about it</summary>
          <div className="mt-2 space-y-1.5">
            <Check on={team} onChange={setTeam}>
              it is my team’s, who may change it
            </Check>
            <Check on={noDownload} onChange={setNoDownload}>
              readers may not download it
            </Check>
            <Check
              on={shown.length > 0}
              onChange={(on) => setShown(on ? (brief.columns ?? []) : [])}
              off={!brief.columns?.length}
            >
              behind a number, show the columns listed now
            </Check>
            <Check on={shownFixed} onChange={setShownFixed} off={shown.length === 0}>
              … and readers may not change them
            </Check>
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
        {refused && !said("/title") && (
          <p role="alert" className="mt-3 text-rust">
            {refused.message}
          </p>
        )}
        <div className="mt-5 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={busy}>
            Save
          </button>
        </div>
      </form>
    </Modal>
  );
}

function Check({
  on,
  off,
  onChange,
  children,
}: {
  on: boolean;
  off?: boolean;
  onChange: (on: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-2" style={{ opacity: off ? 0.5 : 1 }}>
      <input type="checkbox" checked={on} disabled={off} onChange={(e) => onChange(e.target.checked)} />
      {children}
    </label>
  );
}
