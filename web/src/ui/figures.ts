import type { components } from "../api/schema.gen";

type Days = components["schemas"]["SchemaBody"]["days"];

/** The language whose marks figures are written with, and the way days are, as the organisation has them. */
let tag = "en";
let days: Days = "words";

export function writeFiguresAs(language: string, way: Days) {
  tag = language;
  days = way;
}

/** A count for people, with the organisation's marks between thousands. */
export const count = (n: number) => n.toLocaleString(tag);

/** The day of a moment, in seconds, for people. */
export function day(seconds: number): string {
  const at = new Date(seconds * 1000);
  const of = (locale: string, month: "short" | "2-digit") =>
    at.toLocaleDateString(locale, { day: month === "short" ? "numeric" : "2-digit", month, year: "numeric" });
  return {
    words: () => of("en-GB", "short"),
    dots: () => of("de", "2-digit"),
    slashes: () => of("en-GB", "2-digit"),
    iso: () => of("sv", "2-digit"),
  }[days]();
}

/** A moment, in seconds, for people: its day and time. */
export const moment = (seconds: number) =>
  `${day(seconds)}, ${new Date(seconds * 1000).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;
