import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief } from "../../api/client";
import { anew } from "../../api/keys";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";

/** Keeps what a report is answered now, as it is now. */
export function KeepResult({
  brief,
  report,
  title,
  onClose,
}: {
  brief: Brief;
  report?: number;
  /** What it is of, for a first name. */
  title: string;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const go = useNavigate();
  const [name, setName] = useState(title);
  const [keep, busy] = useDo(
    () => ask(api.POST("/api/kept", { body: { brief, name, ...(report ? { report } : {}) } })),
    (k) => {
      anew(client, "kept");
      onClose();
      toast(`Kept as “${k.name}”`, { action: { label: "Open it", onClick: () => go(`/kept/${k.id}`) } });
    },
  );
  return (
    <Modal title="Keep this result" onClose={onClose}>
      <p className="mb-3 text-ink2">
        Its numbers, its picture and its records stay as they are at this moment, whatever happens to the records. It is
        yours alone, and is compared with today whenever you like.
      </p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <label className="block">
          <span className="mb-1 block text-[13px] text-ink2">What it is called</span>
          <input
            className="input"
            value={name}
            maxLength={200}
            onFocus={(e) => e.target.select()}
            onChange={(e) => setName(e.target.value)}
            // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
            autoFocus
          />
        </label>
        <div className="mt-5 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={busy}>
            Keep result
          </button>
        </div>
      </form>
    </Modal>
  );
}
