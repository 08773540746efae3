import { useEffect } from "react";
import type { FieldPath, FieldPathValue, FieldValues, UseFormReturn } from "react-hook-form";
import { SelectField } from "./form";

/** Into which folder something goes: the one it is in where one may put things there, else the first of those one may. */
export function FolderField<V extends FieldValues>({
  form,
  name,
  folders,
}: {
  form: UseFormReturn<V>;
  name: FieldPath<V>;
  folders: readonly { id: number; name: string; private?: boolean }[];
}) {
  const folder = form.watch(name) as unknown as number;
  const chosen = folders.some((f) => f.id === folder) ? folder : (folders[0]?.id ?? 0);
  useEffect(() => form.setValue(name, chosen as FieldPathValue<V, FieldPath<V>>), [form, name, chosen]);
  return (
    <SelectField
      key={folders.length}
      form={form}
      name={name}
      label="Folder"
      options={folders.map((f) => ({ value: f.id, label: `${f.name} ${f.private ? "(only you)" : ""}` }))}
    />
  );
}
