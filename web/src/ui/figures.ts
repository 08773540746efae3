/** The language whose marks figures are written with, as the organisation has it. */
let tag = "en";

export function writeFiguresAs(language: string) {
  tag = language;
}

/** A count for people, with the organisation's marks between thousands. */
export const count = (n: number) => n.toLocaleString(tag);
