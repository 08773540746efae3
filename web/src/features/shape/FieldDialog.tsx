import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { FormEnd } from "../../ui/FormEnd";
import { CheckField, LongField, SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";

type Field = Schemas["ShapedField"];
type Kind = Field["kind"];

const kinds: { value: Kind; label: string }[] = [
  { value: "text", label: "text" },
  { value: "number", label: "a number" },
  { value: "money", label: "an amount of money" },
  { value: "percent", label: "a percentage" },
  { value: "date", label: "a day" },
  { value: "time", label: "a day and an hour" },
  { value: "yesno", label: "yes or no" },
  { value: "choice", label: "one of several choices" },
  { value: "link", label: "a link to another record" },
];

/** What a kind of values is called. */
export const kindLabel = (kind: string) => kinds.find((k) => k.value === kind)?.label ?? kind;

const formats = [
  { value: "", label: "any" },
  { value: "email", label: "an e-mail address" },
  { value: "phone", label: "a telephone number" },
  { value: "page", label: "the address of a page" },
];

/** Adds a field of one's own to a record type, or changes one. */
export function FieldDialog({
  type,
  field,
  begun,
  version,
  onClose,
  onDone,
}: {
  type: string;
  field?: Field;
  /** What a new one begins with. */
  begun?: { label: string; kind: Kind; choices?: string };
  version: number;
  onClose: () => void;
  /** Told the key of a new one. */
  onDone: (key?: string) => void;
}) {
  const types = useSchema()?.types ?? [];
  const form = useForm({
    defaultValues: {
      label: field?.label ?? begun?.label ?? "",
      kind: field?.kind ?? begun?.kind ?? ("text" as Kind),
      to: field?.to ?? "customers",
      back: field?.back ?? "",
      description: field?.description ?? "",
      unit: field?.unit ?? "",
      phrase: field?.phrase ?? "",
      format: field?.format ?? "",
      least: field?.least ?? "",
      most: field?.most ?? "",
      default: field?.default ?? "",
      required: field?.required ?? false,
      unique: field?.unique ?? false,
      filled: field?.formula ? "formula" : "people",
      formula: field?.formula ?? "",
      yes: field?.yes ?? "",
      no: field?.no ?? "",
      choices: begun?.choices ?? "",
    },
  });
  const kind = form.watch("kind");
  const amounts = kind === "number" || kind === "money" || kind === "percent";
  const days = kind === "date" || kind === "time";
  const worked = amounts && form.watch("filled") === "formula";
  const { submit, busy } = useSend(
    form,
    ({ choices, format, filled, formula, yes, no, ...values }): Promise<{ key?: string } | undefined> => {
      const body = {
        ...values,
        ...(worked ? { formula, least: "", most: "", default: "", required: false, unique: false } : {}),
        ...(kind === "yesno" ? { yes, no } : {}),
        retired: field?.retired ?? false,
        format: (format || undefined) as "email" | undefined,
        version,
      };
      if (field)
        return ask(api.PUT("/api/shape/{type}/fields/{field}", { params: { path: { type, field: field.key } }, body }));
      return ask(
        api.POST("/api/shape/{type}/fields", {
          params: { path: { type } },
          body: { ...body, ...(kind === "choice" ? { choices: choices.split("\n").filter((c) => c.trim()) } : {}) },
        }),
      );
    },
    (made) => {
      toast(field ? "Saved" : "The field is there at once, in records, reports and files.");
      onDone(made?.key);
    },
  );
  return (
    <Modal title={field ? `Change “${field.label}”` : "New field"} width={560} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="label" label="Name" maxLength={100} />
        <SelectField
          form={form}
          name="kind"
          label="It holds"
          options={kinds.filter((k) => !field || (field.kind === "link") === (k.value === "link"))}
          help={field && "Another kind is taken where all of its values fit."}
        />
        {kind === "choice" && !field && (
          <LongField
            form={form}
            name="choices"
            label="Choices, one a line"
            rows={5}
            help="They can be changed later."
          />
        )}
        {kind === "link" && (
          <>
            {!field && (
              <SelectField
                key={types.length}
                form={form}
                name="to"
                label="It leads to"
                options={types.filter((t) => t.key !== "changes").map((t) => ({ value: t.key, label: t.label }))}
              />
            )}
            <TextField
              form={form}
              name="back"
              label="What it is called from there"
              maxLength={100}
              help="Left empty, it is called as these records are."
            />
          </>
        )}
        {amounts && !field && (
          <SelectField
            form={form}
            name="filled"
            label="Its values"
            options={[
              { value: "people", label: "are filled in" },
              { value: "formula", label: "are worked out by a formula" },
            ]}
          />
        )}
        {worked && (
          <LongField
            form={form}
            name="formula"
            label="Formula"
            placeholder="value * 0.35 - first_filled(cost, 0)"
            help={`From fields by their keys: ${(types.find((t) => t.key === type)?.fields ?? [])
              .filter((f) => !f.retired && f.kind !== "link" && f.kind !== "id" && f.key !== field?.key)
              .map((f) => f.key)
              .join(
                ", ",
              )}; of a record it links to as customer.size. Also min, max, abs, round, if, first_filled, days, today.`}
          />
        )}
        {kind === "yesno" && (
          <div className="grid grid-cols-2 gap-3">
            <TextField form={form} name="yes" label="Yes is called" maxLength={30} placeholder="yes" />
            <TextField form={form} name="no" label="No is called" maxLength={30} placeholder="no" />
          </div>
        )}
        {kind === "number" && <TextField form={form} name="unit" label="Unit" maxLength={20} placeholder="m" />}
        {kind === "text" && <SelectField form={form} name="format" label="The text is" options={formats} />}
        {(amounts || days) && !worked && (
          <div className="grid grid-cols-2 gap-3">
            <TextField form={form} name="least" label="At least" type={kind === "date" ? "date" : "text"} />
            <TextField form={form} name="most" label="At most" type={kind === "date" ? "date" : "text"} />
          </div>
        )}
        {days && (
          <TextField
            form={form}
            name="phrase"
            label="How a sentence says it"
            maxLength={60}
            placeholder="due"
            help="Before a period: “due this month”. Left empty, it is said by its name."
          />
        )}
        {kind !== "link" && !worked && (
          <TextField
            form={form}
            name="default"
            label="A new record begins with"
            type={kind === "date" ? "date" : "text"}
            help={kind === "yesno" ? "true or false" : undefined}
          />
        )}
        <LongField form={form} name="description" label="What it is for" />
        {!worked && (
          <p className="flex flex-wrap gap-x-5 gap-y-1">
            <CheckField form={form} name="required" label="never empty" />
            {kind !== "yesno" && kind !== "link" && (
              <CheckField form={form} name="unique" label="no two records have the same" />
            )}
          </p>
        )}
        <FormEnd form={form} off={busy} action={field ? "Save" : "Add"} />
      </form>
    </Modal>
  );
}
