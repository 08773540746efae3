import { useState } from "react";
import type { UseFormReturn } from "react-hook-form";
import type { FieldInfo } from "../../api/client";
import { useRecordsNamed } from "../../api/hooks";
import { yesNo } from "../../fields/fields";
import { LongField, SelectField, TextField } from "../../ui/form";
import { Named } from "./Named";

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
  const [search, setSearch] = useState<string>();
  const found = useRecordsNamed(f.to ?? "", search ?? "");
  const error = form.getFieldState(f.key, form.formState).error?.message;
  const id = `link-${f.key}`;
  const pick = (to: string, called: string) => {
    form.setValue(f.key, to, { shouldDirty: true });
    form.clearErrors(f.key);
    setChosen(called);
    setSearch(undefined);
  };
  const list = search === undefined ? [] : (found.data ?? []).slice(0, 8);
  return (
    <div className="relative mb-3">
      <label className="mb-1 block font-semibold" htmlFor={id}>
        {f.label}
        {f.required ? " *" : ""}
      </label>
      <input
        id={id}
        className="input"
        role="combobox"
        aria-expanded={list.length > 0}
        aria-controls={`${id}-list`}
        aria-invalid={!!error}
        autoComplete="off"
        placeholder="Find by name"
        value={search ?? (value ? chosen || `number ${value}` : "")}
        onChange={(e) => (e.target.value === "" ? pick("", "") : setSearch(e.target.value))}
        onKeyDown={(e) => {
          if (e.key === "Escape" && search !== undefined) {
            e.stopPropagation();
            setSearch(undefined);
          }
          if (e.key === "Enter" && list[0]) {
            e.preventDefault();
            pick(list[0].id, list[0].name);
          }
        }}
        onBlur={() => setTimeout(() => setSearch(undefined), 150)}
      />
      <div
        id={`${id}-list`}
        role="listbox"
        aria-label={f.label}
        className={list.length ? "pop absolute z-10 w-full p-1" : "hidden"}
      >
        {list.map((r, i) => (
          <div
            key={r.id}
            role="option"
            aria-selected={i === 0}
            tabIndex={-1}
            className="pick cursor-pointer"
            onMouseDown={() => pick(r.id, r.name)}
          >
            <Named record={r} />
          </div>
        ))}
      </div>
      {error && (
        <p role="alert" className="mt-1 text-rust">
          {error}
        </p>
      )}
    </div>
  );
}
