/** A title that every file system takes. */
export const fileName = (title: string) =>
  title
    .replace(/[\\/:*?"<>|]+/g, " ")
    .replace(/\s+/g, " ")
    .trim() || "file";

/** Hands a file to the person. */
export function download(blob: Blob, name: string) {
  const url = URL.createObjectURL(blob);
  const a = document.createElement("a");
  a.href = url;
  a.download = name;
  a.click();
  URL.revokeObjectURL(url);
}

/** Hands something over as a JSON file. */
export const downloadJSON = (value: unknown, name: string) =>
  download(new Blob([JSON.stringify(value, null, 1)], { type: "application/json" }), name);
