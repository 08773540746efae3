import type { SchemaInfo, Tree } from "../api/client";
import { typeOf } from "./fields";

const is = (field: string, ...values: string[]): Tree => ({ field, is: "any_of", values });

/** The conditions that a record type is most asked by. */
const lists: Record<string, { label: string; tree: Tree }[]> = {
  deals: [
    { label: "Open", tree: is("status", "open") },
    { label: "Won", tree: is("status", "won") },
    { label: "Lost", tree: is("status", "lost") },
    { label: "Likely", tree: { field: "likelihood", is: "at_least", values: ["60"] } },
  ],
  activities: [
    { label: "Done", tree: is("done", "true") },
    { label: "Planned", tree: { field: "happens", is: "within", period: "future" } },
    {
      label: "Missed",
      tree: {
        all: [
          { field: "happens", is: "within", period: "past" },
          { field: "done", is: "none_of", values: ["true"] },
        ],
      },
    },
  ],
  customers: [
    {
      label: "Quiet",
      tree: {
        link: "activities",
        is: "none",
        where: { field: "happens", is: "within", period: { last: 90, unit: "day" } },
      },
    },
    { label: "New", tree: { field: "created", is: "within", period: { last: 90, unit: "day" } } },
    { label: "Without a deal", tree: { link: "deals", is: "none" } },
  ],
  contacts: [
    { label: "New", tree: { field: "created", is: "within", period: { last: 90, unit: "day" } } },
    { label: "Without a phone number", tree: { field: "phone", is: "empty" } },
    { label: "Without an address for mail", tree: { field: "email", is: "empty" } },
    { label: "Not spoken to", tree: { link: "activities", is: "none" } },
  ],
  products: [
    {
      label: "Sold",
      tree: { link: "lines", is: "some", where: { field: "deal.status", is: "any_of", values: ["won"] } },
    },
    { label: "Never offered", tree: { link: "lines", is: "none" } },
  ],
  lines: [
    { label: "Of open deals", tree: is("deal.status", "open") },
    { label: "Of won deals", tree: is("deal.status", "won") },
  ],
  people: [
    { label: "Active", tree: is("active", "true") },
    { label: "With open deals", tree: { link: "deals", is: "some", where: is("status", "open") } },
  ],
  teams: [{ label: "With active people", tree: { link: "people", is: "some", where: is("active", "true") } }],
  changes: [
    { label: "Of the stage", tree: is("field", "stage") },
    { label: "This week", tree: { field: "at", is: "within", period: "this_week" } },
  ],
};

/** Shortcuts of a record type whose fields are all there. */
export function shortcuts(schema: SchemaInfo, start: string) {
  const type = typeOf(schema, start);
  const known = (t: Tree): boolean =>
    t.all
      ? t.all.every(known)
      : t.link
        ? !!type?.backs.some((x) => x.key === t.link)
        : !!type?.fields.some((f) => f.key === t.field?.split(".")[0]);
  return (lists[start] ?? []).filter((s) => known(s.tree));
}
