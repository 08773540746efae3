import { useSyncExternalStore } from "react";

/** The pages of the guide, in the order in which people work, with their titles. */
export const helpPages = {
  begin: "What a report is made of",
  records: "Which records",
  whose: "Whose, and from when",
  conditions: "Conditions",
  columns: "Columns and order",
  groups: "Groups and summaries",
  charts: "Charts",
  reading: "Looking closer",
  moved: "As it was, and what moved",
  keeping: "Keeping, finding, sharing",
  dashboards: "Dashboards",
  send: "What is sent, and the inbox",
  targets: "Targets",
  currencies: "Several currencies",
  home: "Home",
  lists: "Lists that are worked in",
  pages: "Records and their pages",
  log: "What was done, and what is next",
  "bring-in": "Bringing records in",
  shape: "Fields and record types",
  people: "People and settings",
  files: "Files, paper, programs",
} as const;

export type HelpPage = keyof typeof helpPages;

let shown: HelpPage | undefined;
const listeners = new Set<() => void>();

/** Opens a page of the guide beside what one is at, or closes the guide. */
export function openHelp(page: HelpPage | undefined) {
  shown = page;
  for (const tell of listeners) tell();
}

/** The page that is open. */
export const useHelp = () =>
  useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => shown,
  );

const places: [RegExp, HelpPage][] = [
  [/^\/$/, "home"],
  [/^\/(inbox|deliveries)/, "send"],
  [/^\/kept/, "moved"],
  [/^\/find/, "keeping"],
  [/^\/reports\/new|\/edit$/, "begin"],
  [/^\/reports/, "reading"],
  [/^\/dashboards/, "dashboards"],
  [/^\/records\/[^/]+$/, "lists"],
  [/^\/(records|duplicates)/, "pages"],
  [/^\/targets/, "targets"],
  [/^\/bring-in/, "bring-in"],
  [/^\/shape/, "shape"],
  [/^\/(settings|people|me)/, "people"],
];

/** The page of the guide that a screen is about. */
export const helpOf = (path: string): HelpPage => places.find(([is]) => is.test(path))?.[1] ?? "begin";
