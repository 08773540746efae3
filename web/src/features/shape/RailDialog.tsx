import { useState } from "react";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { moved } from "../../brief/edits";
import { Modal } from "../../ui/Modal";
import { TypeIcon } from "../../ui/TypeIcon";
import { useDo } from "../../ui/useDo";

/** The order in which record types are offered: in the rail, and wherever else one goes to them. */
export function RailDialog({ version, onClose, onDone }: { version: number; onClose: () => void; onDone: () => void }) {
  const schema = useSchema();
  const [ordered, setOrdered] = useState<string[]>();
  const order = ordered ?? schema?.rail ?? [];
  const [save, busy] = useDo(
    () => ask(api.PUT("/api/rail", { body: { order, version } })),
    () => {
      toast("Saved. They stand so for everyone.");
      onDone();
    },
  );
  const move = (at: number, to: number) => setOrdered(moved(order, at, to));
  return (
    <Modal title="Order of records" width={420} onClose={onClose}>
      <ol aria-label="Records in their order" className="mb-4">
        {order.map((key, i) => {
          const t = schema?.types.find((t) => t.key === key);
          return (
            <li key={key} className="flex items-center gap-1 border-line border-b py-1 last:border-0">
              <span className="mr-auto">
                <TypeIcon icon={t?.icon} />
                {t?.label}
              </span>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${t?.label} earlier`}
                disabled={i === 0}
                onClick={() => move(i, i - 1)}
              >
                ↑
              </button>
              <button
                type="button"
                className="btn btn-quiet !px-1.5"
                aria-label={`${t?.label} later`}
                disabled={i === order.length - 1}
                onClick={() => move(i, i + 1)}
              >
                ↓
              </button>
            </li>
          );
        })}
      </ol>
      <div className="flex justify-end gap-2">
        <button type="button" className="btn btn-quiet" onClick={onClose}>
          Not now
        </button>
        <button type="button" className="btn btn-main" disabled={busy} onClick={() => save()}>
          Save
        </button>
      </div>
    </Modal>
  );
}
