import { useState } from "react";
import type { UseFormReturn } from "react-hook-form";
import type { FieldInfo } from "../../api/client";
import { yesNo } from "../../fields/fields";
import { LongField, SelectField, TextField } from "../../ui/form";
import { FoundRecords } from "./FoundRecords";
import { useFinder } from "./useFinder";

type Values = Record<string, string>;

/** A field of a record with the control of its kind. name is that of the record that it links to. */
export function ValueField({ form, field: f, name }: { form: UseFormReturn<Values>; field: FieldInfo; name?: string }) {
  const of = { form, name: f.key, label: f.label + (f.required ? " *" : ""), help: f.description };
  switch (f.kind) {
    case "choice":
      if (f.choices?.length)
        return (
          <SelectField
            {...of}
            options={[{ value: "", label: "–" }, ...f.choices.map((c) => ({ value: c, label: c }))]}
          />
        );
      return <TextField {...of} />;
    case "yesno":
      return <SelectField {...of} options={[{ value: "", label: "–" }, ...yesNo(f)]} />;
    case "date":
      return <TextField {...of} type="date" />;
    case "time":
      return <TextField {...of} type="datetime-local" step={1} />;
    case "link":
      return <LinkField form={form} field={f} name={name} />;
    case "text":
      return f.key === "notes" || form.getValues(f.key)?.includes("\n") ? (
        <LongField {...of} rows={4} />
      ) : (
        <TextField {...of} type={f.format === "email" ? "email" : f.format === "phone" ? "tel" : "text"} />
      );
  }
  const unit = f.kind === "percent" ? "%" : f.unit;
  return <TextField {...of} label={unit ? `${of.label} (${unit})` : of.label} inputMode="decimal" />;
}

/** A link to another record, which is found by its name. */
function LinkField({ form, field: f, name }: { form: UseFormReturn<Values>; field: FieldInfo; name?: string }) {
  const value = form.watch(f.key);
  const [chosen, setChosen] = useState(name ?? "");
  const [searching, setSearching] = useState(false);
  const error = form.getFieldState(f.key, form.formState).error?.message;
  const id = `link-${f.key}`;
  const pick = (to: string, called: string) => {
    form.setValue(f.key, to, { shouldDirty: true });
    form.clearErrors(f.key);
    setChosen(called);
    leave();
  };
  const finder = useFinder({ types: f.to ? [f.to] : [], onPick: (r) => pick(r.id, r.name) });
  const leave = () => {
    finder.type("");
    setSearching(false);
  };
  return (
    <div className="relative mb-3">
      <label className="mb-1 block font-semibold" htmlFor={id}>
        {f.label}
        {f.required ? " *" : ""}
      </label>
      <input
        {...finder.field}
        id={id}
        className="input"
        aria-invalid={!!error}
        placeholder="Find by name"
        value={searching ? finder.search : value ? chosen || `number ${value}` : ""}
        onChange={(e) => {
          if (e.target.value === "") return pick("", "");
          finder.type(e.target.value);
          setSearching(true);
        }}
        onKeyDown={(e) => {
          if (finder.key(e) || e.key !== "Escape" || !searching) return;
          e.stopPropagation();
          leave();
        }}
        onBlur={() => !finder.waits && setTimeout(leave, 150)}
      />
      <FoundRecords finder={finder} label={f.label} className="pop absolute z-10 w-full p-1" />
      {error && (
        <p role="alert" className="mt-1 text-rust">
          {error}
        </p>
      )}
    </div>
  );
}
