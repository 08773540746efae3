import { Dialog } from "radix-ui";
import type { FieldValues, UseFormReturn } from "react-hook-form";
import { FormTrouble } from "./form";

/** The end of a form in a dialog: what is wrong with all of it, the way out, and the button that sends it. */
export function FormEnd<V extends FieldValues>({
  form,
  action,
  off,
}: {
  form: UseFormReturn<V>;
  action: React.ReactNode;
  off?: boolean;
}) {
  return (
    <>
      <FormTrouble form={form} />
      <div className="mt-5 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button type="submit" className="btn btn-main" disabled={off}>
          {action}
        </button>
      </div>
    </>
  );
}
