import { looks } from "./choices";

type Look = (typeof looks)[number][0];

/** The looks that are chosen among few, each as a list. Where something lies below, empty means as that has it. */
export function LookChoices({
  value,
  below,
  onChange,
}: {
  value: Partial<Record<Look, string>>;
  /** What holds where nothing is chosen, in words. */
  below?: string;
  onChange: (change: Partial<Record<Look, string | undefined>>) => void;
}) {
  return looks.map(([key, label, values]) => (
    <label key={key} className="text-[13px]">
      {label}
      <select
        className="input"
        value={value[key] ?? ""}
        onChange={(e) => onChange({ [key]: e.target.value || undefined })}
      >
        {Object.entries(values).map(([v, words]) => (
          <option key={v} value={v}>
            {v === "" && below ? below : words}
          </option>
        ))}
      </select>
    </label>
  ));
}
