import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { api, ask, type Brief, Refused, type Report } from "../../api/client";
import { useFolders } from "../../api/hooks";

/** Names, describes and files a report. What the server refuses is said beside the field at fault. */
export function KeepDialog({
  report,
  from,
  brief,
  suggestion,
  onClose,
  onKept,
}: {
  report?: Report;
  from?: Report;
  brief: Brief;
  suggestion: string;
  onClose: () => void;
  onKept: (r: Report) => void;
}) {
  const folders = useFolders().data ?? [];
  const [title, setTitle] = useState(report?.title ?? suggestion);
  const [description, setDescription] = useState((report ?? from)?.description ?? "");
  const [folder, setFolder] = useState(report?.folder ?? from?.folder ?? 0);
  const [refused, setRefused] = useState<Refused>();
  const [busy, setBusy] = useState(false);
  const chosen = folder || folders[0]?.id || 0;
  const said = (pointer: string) => refused?.problem.errors?.find((e) => e.pointer === pointer)?.message;

  async function keep(e: FormEvent) {
    e.preventDefault();
    setBusy(true);
    try {
      const body = { title, description, folder: chosen, brief };
      onKept(
        await ask(
          report
            ? api.PUT("/api/reports/{id}", { params: { path: { id: report.id } }, body: { ...body, version: report.version } })
            : api.POST("/api/reports", { body }),
        ),
      );
    } catch (err) {
      if (err instanceof Refused) setRefused(err);
    } finally {
      setBusy(false);
    }
  }

  return (
    <Dialog.Root open onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content className="pop fixed top-24 left-1/2 w-[460px] max-w-[94vw] -translate-x-1/2 p-5" aria-describedby={undefined}>
          <Dialog.Title className="title mb-3 text-xl">{report ? "Save the change" : "Save report"}</Dialog.Title>
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
                  {f.name} {f.private ? "(only you)" : "(everyone)"}
                </option>
              ))}
            </select>
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
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
