import type { FieldPath, FieldValues, UseFormReturn } from "react-hook-form";
import { TextField } from "../../ui/form";

/** Someone's team: one there is, or the name of a new one. */
export function TeamField<V extends FieldValues>({
  teams,
  ...of
}: {
  form: UseFormReturn<V>;
  name: FieldPath<V>;
  teams: string[];
  placeholder?: string;
}) {
  return (
    <>
      <TextField {...of} label="Team" list="people-teams" maxLength={200} />
      <datalist id="people-teams">
        {teams.map((t) => (
          <option key={t} value={t} />
        ))}
      </datalist>
    </>
  );
}
