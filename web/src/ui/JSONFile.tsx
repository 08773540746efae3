import type { RefObject } from "react";

/** The choice of a JSON file, opened by what holds its ref. The same file can be chosen again. */
export function JSONFile({
  label,
  of,
  onFile,
}: {
  label: string;
  of: RefObject<HTMLInputElement | null>;
  onFile: (f: File) => void;
}) {
  return (
    <input
      ref={of}
      type="file"
      accept=".json,application/json"
      className="hidden"
      aria-label={label}
      onChange={(e) => {
        const f = e.target.files?.[0];
        e.target.value = "";
        if (f) onFile(f);
      }}
    />
  );
}
