/** The forms that values of a kind are written in by other systems. */
export function formsOf(kind: string): { value: "point" | "comma" | "ymd" | "dmy" | "mdy" | "words"; label: string }[] {
  if (kind === "number" || kind === "money" || kind === "percent")
    return [
      { value: "point", label: "1,234.56" },
      { value: "comma", label: "1.234,56" },
    ];
  if (kind === "date" || kind === "time")
    return [
      { value: "ymd", label: "2026-05-14" },
      { value: "dmy", label: "14/05/2026" },
      { value: "mdy", label: "05/14/2026" },
      { value: "words", label: "14 May 2026" },
    ];
  return [];
}
