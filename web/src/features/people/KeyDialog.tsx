import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { copyText } from "../../ui/copyText";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";

/** One-time addresses, which are shown here once, to be handed on. */
export function KeyDialog({ keys, onClose }: { keys: Schemas["InvitationBody"][]; onClose: () => void }) {
  const mail = useQuery({ queryKey: ["mail"], queryFn: () => ask(api.GET("/api/settings/mail")) }).data;
  const [mailed, setMailed] = useState(false);
  const [send, busy] = useDo(
    () => ask(api.POST("/api/letters", { body: { keys: keys.map((k) => k.path.split("#")[1] ?? "") } })),
    () => {
      setMailed(true);
      toast(keys.length === 1 ? "Mailed." : `${keys.length} mails are on their way.`);
    },
  );
  // Where there is a server for mail, they go out by themselves, once; what fails can be tried again.
  const begun = useRef(false);
  useEffect(() => {
    if (!mail?.host || begun.current) return;
    begun.current = true;
    send();
  }, [mail?.host, send]);
  const address = (k: Schemas["InvitationBody"]) => location.origin + k.path;
  return (
    <Modal title={keys.length === 1 ? "Hand this address on" : "Hand these addresses on"} width={640} onClose={onClose}>
      <p className="mb-3 text-ink2">
        Each opens once, for its person alone, and is shown only here. Who opens it chooses a password.
        {mailed && " It was mailed to them as well."}
      </p>
      <ul className="max-h-[46vh] overflow-auto">
        {keys.map((k) => (
          <li key={k.id} className="mb-2">
            <span className="font-semibold">{k.email}</span>
            <div className="flex gap-2">
              <input
                className="input font-mono text-[13px]"
                readOnly
                aria-label={`Address for ${k.email}`}
                value={address(k)}
                onFocus={(e) => e.currentTarget.select()}
              />
              <button type="button" className="btn" onClick={() => void copyText(address(k))}>
                Copy
              </button>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex justify-end gap-2">
        {keys.length > 1 && (
          <button
            type="button"
            className="btn"
            onClick={() => void copyText(keys.map((k) => `${k.email}\t${address(k)}`).join("\n"))}
          >
            Copy all
          </button>
        )}
        {mail?.host && !mailed && (
          <button type="button" className="btn" disabled={busy} onClick={() => send()}>
            {busy ? "Mailing …" : keys.length === 1 ? "Mail it" : "Mail them"}
          </button>
        )}
        <Dialog.Close className="btn btn-main">Done</Dialog.Close>
      </div>
    </Modal>
  );
}
