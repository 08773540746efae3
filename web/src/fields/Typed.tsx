import { useState } from "react";
import { plainNumber } from "./amounts";
import { isDated } from "./fields";

/** A typed value, handed on when it reads as one. */
export function Typed({
  kind,
  label,
  value,
  onChange,
}: {
  kind: string;
  label: string;
  value: string;
  onChange: (v: string) => void;
}) {
  const [text, setText] = useState(value);
  const numeric = kind === "number" || kind === "money" || kind === "percent";
  const bad = numeric && text.trim() !== "" && plainNumber(text, kind) === undefined;
  return (
    <div className="flex-1">
      <input
        className="input"
        aria-label={label}
        aria-invalid={bad}
        // biome-ignore lint/a11y/noAutofocus: the editor opens to be typed into
        autoFocus={label !== "To"}
        type={isDated(kind) ? "date" : "text"}
        inputMode={numeric ? "decimal" : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const v = numeric ? plainNumber(e.target.value, kind) : e.target.value;
          if (v) onChange(v);
        }}
      />
      {bad && (
        <p className="mt-1 text-rust text-xs">
          {kind === "money" ? "An amount like 20000 or 1250.50" : "A number like 12.5"}
        </p>
      )}
    </div>
  );
}
