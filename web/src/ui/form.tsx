import { useMutation } from "@tanstack/react-query";
import type { FieldPath, FieldValues, UseFormReturn } from "react-hook-form";
import { Refused } from "../api/client";
import { reason } from "./tell";

/**
 * Sends a form. What the server refuses is said beside the field that it names, as far as the form has it, else for the
 * form as a whole; nothing that was typed is lost. under is where the form's fields are in what is sent.
 */
export function useSend<V extends FieldValues, R>(
  form: UseFormReturn<V>,
  send: (values: V) => Promise<R>,
  done: (result: R) => void,
  under = "",
) {
  const sending = useMutation({
    mutationFn: (values: V) => send(values),
    onSuccess: (result) => done(result),
    onError: (e) => {
      const errors = e instanceof Refused ? (e.problem.errors ?? []) : [];
      const named = errors.flatMap(({ pointer, message }) => {
        const at = pointer?.startsWith(under) ? pointer.slice(under.length) : pointer;
        const name = at?.slice(1).replaceAll("/", ".") as FieldPath<V>;
        return name && form.getFieldState(name) && form.getValues(name) !== undefined ? [{ name, message }] : [];
      });
      for (const { name, message } of named) form.setError(name, { message }, { shouldFocus: true });
      if (!named.length) form.setError("root", { message: reason(e) });
    },
  });
  return { submit: form.handleSubmit((values) => sending.mutate(values)), busy: sending.isPending };
}

type Of<V extends FieldValues> = { form: UseFormReturn<V>; name: FieldPath<V>; label: string; help?: string };

/** A field of a form under its label, with what is wrong with it below. */
function Labelled<V extends FieldValues>({
  form,
  name,
  label,
  help,
  children,
}: Of<V> & { children: (props: ReturnType<typeof control<V>>) => React.ReactNode }) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <div className="mb-3">
      <label className="mb-1 block font-semibold" htmlFor={idOf(name)}>
        {label}
      </label>
      {children(control(form, name, error, help))}
      {help && (
        <p id={`${idOf(name)}-help`} className="mt-1 text-ink2 text-xs">
          {help}
        </p>
      )}
      {error && (
        <p id={`${idOf(name)}-error`} role="alert" className="mt-1 text-rust">
          {error}
        </p>
      )}
    </div>
  );
}

const idOf = (name: string) => `field-${name.replaceAll(".", "-")}`;

const control = <V extends FieldValues>(form: UseFormReturn<V>, name: FieldPath<V>, error?: string, help?: string) => ({
  id: idOf(name),
  className: "input",
  "aria-invalid": !!error,
  "aria-describedby":
    [error && `${idOf(name)}-error`, help && `${idOf(name)}-help`].filter(Boolean).join(" ") || undefined,
  ...form.register(name),
});

/** A line of text, a password, an address, a date. */
export function TextField<V extends FieldValues>({
  form,
  name,
  label,
  help,
  ...input
}: Of<V> & Omit<React.InputHTMLAttributes<HTMLInputElement>, "form" | "name">) {
  return (
    <Labelled form={form} name={name} label={label} help={help}>
      {(props) => <input {...props} {...input} />}
    </Labelled>
  );
}

/** A password that is chosen. */
export function NewPasswordField<V extends FieldValues>({
  label = "Password",
  ...of
}: Omit<Of<V>, "label"> & { label?: string }) {
  return (
    <TextField
      {...of}
      label={label}
      type="password"
      autoComplete="new-password"
      help="At least 12 characters. Several words that have nothing to do with one another are best."
    />
  );
}

/** A text of several lines. */
export function LongField<V extends FieldValues>({
  rows = 2,
  placeholder,
  ...of
}: Of<V> & { rows?: number; placeholder?: string }) {
  return <Labelled {...of}>{(props) => <textarea rows={rows} placeholder={placeholder} {...props} />}</Labelled>;
}

/** One of several choices; numbers are kept as numbers. */
export function SelectField<V extends FieldValues>({
  options,
  ...of
}: Of<V> & { options: readonly { value: string | number; label: string }[] }) {
  const number = typeof options[0]?.value === "number";
  return (
    <Labelled {...of}>
      {(props) => (
        <select {...props} {...of.form.register(of.name, number ? { valueAsNumber: true } : {})}>
          {options.map((o) => (
            <option key={o.value} value={o.value}>
              {o.label}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}

/** Something that is so or not. */
export function CheckField<V extends FieldValues>({ form, name, label, off }: Of<V> & { off?: boolean }) {
  return (
    <label className="flex items-center gap-2" style={{ opacity: off ? 0.5 : 1 }}>
      <input type="checkbox" {...form.register(name)} aria-disabled={off} onClick={(e) => off && e.preventDefault()} />
      {label}
    </label>
  );
}

/** What is wrong with the form as a whole. */
export function FormTrouble<V extends FieldValues>({ form }: { form: UseFormReturn<V> }) {
  const message = form.formState.errors.root?.message;
  return message ? (
    <p role="alert" className="mt-3 text-rust">
      {message}
    </p>
  ) : null;
}
