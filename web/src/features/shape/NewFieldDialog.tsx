import { Dialog } from "radix-ui";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { FormTrouble, LongField, SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

const kinds = [
  { value: "text", label: "text" },
  { value: "number", label: "a number" },
  { value: "money", label: "an amount of money" },
  { value: "percent", label: "a percentage" },
  { value: "date", label: "a day" },
  { value: "yesno", label: "yes or no" },
  { value: "choice", label: "one of several choices" },
] as const;

/** Adds a field of one's own to a record type. */
export function NewFieldDialog({
  type,
  version,
  onClose,
  onDone,
}: {
  type: string;
  version: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const form = useForm({
    defaultValues: { label: "", kind: "text" as (typeof kinds)[number]["value"], choices: "" },
  });
  const kind = form.watch("kind");
  const { submit, busy } = useSend(
    form,
    ({ label, kind, choices }) =>
      ask(
        api.POST("/api/shape/{type}/fields", {
          params: { path: { type } },
          body: {
            label,
            kind,
            version,
            ...(kind === "choice" ? { choices: choices.split("\n").filter((c) => c.trim()) } : {}),
          },
        }),
      ),
    () => {
      toast("The field is there at once, in records, reports and files.");
      onDone();
    },
  );
  return (
    <Modal title="New field" onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="label" label="Name" maxLength={100} />
        <SelectField form={form} name="kind" label="It holds" options={kinds} />
        {kind === "choice" && <LongField form={form} name="choices" label="Choices, one a line" rows={5} />}
        <FormTrouble form={form} />
        <div className="mt-5 flex justify-end gap-2">
          <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
          <button type="submit" className="btn btn-main" disabled={busy}>
            Add
          </button>
        </div>
      </form>
    </Modal>
  );
}
