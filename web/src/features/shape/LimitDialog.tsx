import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { SelectField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Field = Schemas["ShapedField"];
type Limit = Schemas["LimitBody"];

const who = { composers: "composers and administrators", administrators: "administrators" };

/** Who sees and who changes a field, where that is not everyone. */
export const limitSaid = ({ see, change }: Limit) =>
  [see && `seen by ${who[see]}`, change && change !== see && `changed by ${who[change]}`].filter(Boolean).join(", ");

/** Says who sees and who changes a field. */
export function LimitDialog({
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
  const form = useForm<Limit>({ defaultValues: field.limit });
  const { submit, busy } = useSend(
    form,
    (limit) =>
      ask(
        api.PUT("/api/shape/{type}/limits/{field}", {
          params: { path: { type, field: field.key } },
          body: { ...limit, version },
        }),
      ),
    () => {
      toast("Saved. It holds at once, for everyone.");
      onDone();
    },
  );
  return (
    <Modal title={`Who has “${field.label}”`} width={480} onClose={onClose}>
      <form onSubmit={submit}>
        {field.needed ? (
          <p className="mb-3 text-ink2">Everyone who sees the record sees it.</p>
        ) : (
          <SelectField
            form={form}
            name="see"
            label="It is seen by"
            options={[
              { value: "", label: "everyone who sees the record" },
              { value: "composers", label: who.composers },
              { value: "administrators", label: who.administrators },
            ]}
            help="For all others it is nowhere: not in records, lists, reports, histories, files, nor found by."
          />
        )}
        {!field.worked && (
          <SelectField
            form={form}
            name="change"
            label="It is changed by"
            options={[
              { value: "", label: "everyone who sees it" },
              { value: "composers", label: who.composers },
              { value: "administrators", label: who.administrators },
            ]}
          />
        )}
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
