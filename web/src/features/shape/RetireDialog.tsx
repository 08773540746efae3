import * as Dialog from "@radix-ui/react-dialog";
import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";

type Field = Schemas["ShapedField"];

/** Retires a field of one's own, once it is seen what uses it; or offers it again. */
export function RetireDialog({
  type,
  field,
  version,
  onClose,
  onDone,
}: {
  type: string;
  field: Field;
  version: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const path = { params: { path: { type, field: field.key } } };
  const uses = useQuery({
    queryKey: ["field uses", type, field.key],
    gcTime: 0,
    queryFn: () => ask(api.GET("/api/shape/{type}/fields/{field}/uses", path)),
  });
  const [send, busy] = useDo(
    () => {
      const { key, added, worked, limit, needed, stages, choices, ...body } = field;
      return ask(
        api.PUT("/api/shape/{type}/fields/{field}", { ...path, body: { ...body, retired: !field.retired, version } }),
      );
    },
    () => {
      toast(field.retired ? `${field.label} is offered again.` : `${field.label} is retired.`);
      onDone();
    },
  );
  return (
    <Modal
      title={field.retired ? `Offer “${field.label}” again?` : `Retire “${field.label}”?`}
      width={460}
      onClose={onClose}
    >
      <Trouble error={uses.error} />
      <p>
        {field.retired
          ? "It is filled in, and offered for reports, as before."
          : "It is filled in no more, nor offered for new reports. Its values stay; it can be taken away for good later."}
      </p>
      {uses.data && uses.data.length > 0 && !field.retired && (
        <p className="mt-2">
          It is used by {uses.data.slice(0, 8).join(", ")}
          {uses.data.length > 8 && ` and ${uses.data.length - 8} others`}. They go on, and say that it is retired.
        </p>
      )}
      {uses.data?.length === 0 && !field.retired && <p className="mt-2">Nothing uses it.</p>}
      <div className="mt-5 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button type="button" className="btn btn-main" disabled={!uses.data || busy} onClick={() => send()}>
          {field.retired ? "Offer it again" : "Retire it"}
        </button>
      </div>
    </Modal>
  );
}
