import { walk } from "./walk";

/** A choice of one among a few, in a row. */
export function Seg<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (v: T) => void;
}) {
  const known = options.some(([v]) => v === value);
  return (
    <div role="radiogroup" aria-label={label} className="seg" onKeyDown={walk}>
      {options.map(([v, text], i) => (
        <button
          key={v}
          type="button"
          role="radio"
          aria-checked={v === value}
          tabIndex={v === value || (!known && i === 0) ? 0 : -1}
          onClick={() => onChange(v)}
        >
          {text}
        </button>
      ))}
    </div>
  );
}
