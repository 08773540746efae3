import type { QueryClient } from "@tanstack/react-query";

/** What is asked for of the records, and so hangs on all of them. */
const ofRecords = [
  "answer",
  "panel",
  "list",
  "list begun",
  "list search",
  "lists",
  "exceptions",
  "duplicates",
  "explain",
  "kept against",
  "moves",
  "moved",
  "stood",
  "record",
  "record values",
  "values",
  "waits",
  "spread",
  "print",
  "print grouped",
  "why",
  "currencies",
] as const;
/** What is asked for of reports, dashboards and folders. */
const ofLibrary = [
  "find",
  "find-records",
  "follows",
  "report",
  "reports",
  "report-pages",
  "backup",
  "board",
  "boards",
  "board draft",
  "board versions",
  "closed",
  "closed at",
  "dismissed",
  "difference",
  "drafts",
  "folders",
  "kept",
  "kept records",
  "shares",
  "uses",
  "versions",
] as const;
/** What ships with the application, or is set up for everyone. */
const ofSettings = [
  "figures",
  "filters",
  "home",
  "homes",
  "measures",
  "palette",
  "page layout",
  "policy",
  "points",
  "preview",
  "schema",
  "second factor",
  "seen",
  "sees",
  "sets",
  "setting changes",
  "shape",
  "type uses",
  "field uses",
  "starters",
  "style",
  "styles",
  "targets",
  "words",
] as const;
/** What is asked for while one types, and who one is. */
const ofPerson = [
  "behind report",
  "bring-in",
  "bring-in progress",
  "brought in",
  "holds",
  "coming",
  "deliveries",
  "inbox",
  "key",
  "log",
  "mail",
  "many",
  "outbox",
  "unread",
  "me",
  "my sessions",
  "my tokens",
  "palette records",
  "people",
  "rights",
  "work",
  "look",
  "period",
  "placeables",
  "set-up",
  "subjects",
  "typed",
  "typed-next",
  "welcome",
] as const;

/** The kinds of questions there are: the first of each key. */
export type Kind = (typeof ofRecords | typeof ofLibrary | typeof ofSettings | typeof ofPerson)[number];

declare module "@tanstack/react-query" {
  interface Register {
    queryKey: readonly [Kind, ...unknown[]];
  }
}

/** Has kinds of questions asked anew; resolves when those that are on the screen are answered. */
export const anew = (client: QueryClient, ...kinds: Kind[]) =>
  Promise.all(kinds.map((kind) => client.invalidateQueries({ queryKey: [kind] })));

/** What a change of each kind of thing that the server tells of changes besides itself. */
const lists = { report: "reports", board: "boards", folder: "folders", targets: "measures" } as const;

/** Has all that hangs on the records asked anew. */
export const recordsAnew = (client: QueryClient) =>
  anew(client, "answer", "panel", "list", "explain", "record", "values", "waits", "moves", "stood");

/** Has what hangs on one kept thing asked anew. */
export function keptAnew(client: QueryClient, kind: keyof typeof lists, id: number) {
  anew(client, "find", lists[kind]);
  if (kind === "report" || kind === "board") void client.invalidateQueries({ queryKey: [kind, id] });
}
