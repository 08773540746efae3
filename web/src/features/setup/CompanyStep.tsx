import { useForm } from "react-hook-form";
import { api, ask, type Schemas } from "../../api/client";
import { FormTrouble, SelectField, TextField, useSend } from "../../ui/form";

type Company = Schemas["CompanyBody"];

const months = Array.from({ length: 12 }, (_, i) => ({
  value: i + 1,
  label: new Date(2026, i, 1).toLocaleDateString("en-GB", { month: "long" }),
}));
const days = ["monday", "sunday", "saturday", "friday", "tuesday", "wednesday", "thursday"].map((value) => ({
  value,
  label: value.charAt(0).toUpperCase() + value.slice(1),
}));
const zones = Intl.supportedValuesOf("timeZone");
const currencies = Intl.supportedValuesOf("currency");

/** The first step: what the organisation is called, and how it counts days, years and money. */
export function CompanyStep({
  setUp,
  secret,
  onDone,
}: {
  setUp: Schemas["SetUpBody"];
  secret: string;
  onDone: () => Promise<unknown>;
}) {
  const was = setUp.company;
  const form = useForm<Company>({
    defaultValues: was.name
      ? was
      : { ...was, timezone: Intl.DateTimeFormat().resolvedOptions().timeZone, currency: was.currency || "EUR" },
  });
  const { submit, busy } = useSend(
    form,
    (company) => ask(api.POST("/api/setup/organisation", { body: { key: secret, company } })),
    () => void onDone(),
  );
  return (
    <form onSubmit={submit}>
      <h1 className="title mb-2 text-2xl">Your organisation</h1>
      <p className="mb-5 text-ink2">Days, years and money are counted as you say here, for everyone.</p>
      <TextField form={form} name="name" label="Name" maxLength={200} autoComplete="organization" />
      <div className="grid grid-cols-2 gap-x-4 max-sm:grid-cols-1">
        <TextField form={form} name="timezone" label="Time zone" list="set-up-zones" />
        <TextField form={form} name="currency" label="Currency" list="set-up-currencies" maxLength={3} />
        <SelectField form={form} name="weekStart" label="A week begins on" options={days} />
        <SelectField form={form} name="fiscalMonth" label="The fiscal year begins in" options={months} />
        <SelectField
          form={form}
          name="figures"
          label="Numbers are written"
          options={setUp.figures.map((f) => ({ value: f.tag, label: f.example }))}
        />
        <SelectField
          form={form}
          name="days"
          label="Days are written"
          options={setUp.days.map((f) => ({ value: f.tag, label: f.example }))}
        />
      </div>
      <datalist id="set-up-zones">
        {zones.map((z) => (
          <option key={z} value={z} />
        ))}
      </datalist>
      <datalist id="set-up-currencies">
        {currencies.map((c) => (
          <option key={c} value={c} />
        ))}
      </datalist>
      <FormTrouble form={form} />
      <button type="submit" className="btn btn-main mt-2" disabled={busy}>
        Go on
      </button>
    </form>
  );
}
