import type { Brief, Clause, SchemaInfo } from "../api/client";
import { typeOf } from "../fields/fields";
import type { ClauseKind } from "./clauseNames";

/** What a report can be given and does not have yet. */
export type Invite = {
  which: ClauseKind;
  label: string;
  /** What it adds, with an example from the person's own records. */
  help: string;
  /** Which of several of its kind it would be. */
  at: number;
  /** The part of the report that it is about, "" for the whole. */
  pointer: string;
};

const quote = (s: string | undefined) => (s ? `“${s}”` : "");

/** Lists what a report can still be given, in the order in which people think of it. */
export function invites(schema: SchemaInfo, brief: Brief, clauses: Clause[]): Invite[] {
  const list: Invite[] = [];
  const has = (key: string, under = "") => clauses.some((c) => c.key === key && (c.at ?? "").startsWith(under));
  const groups = brief.groups?.length ?? 0;
  const across = brief.across?.length ?? 0;
  const add = (which: ClauseKind, label: string, help: string, at = 0, pointer = "") =>
    list.push({ which, label, help, at, pointer });
  const narrow = (start: string | undefined, pointer: string, suffix: string) => {
    const t = typeOf(schema, start);
    if (!t) return;
    const many = t.label.toLowerCase();
    const date = t.fields.find((f) => f.kind === "date" || f.kind === "time");
    const choice = t.fields.find((f) => f.choices?.length);
    if (!has("period", pointer))
      add(
        "period",
        `in a period…${suffix}`,
        `Only ${many} of some time, as ${quote(`${date?.label.toLowerCase() ?? "created"} this quarter`)}.`,
        0,
        pointer,
      );
    add(
      "filter",
      (has("filter", pointer) ? "another condition…" : "where…") + suffix,
      `Only ${many} that meet a condition${choice ? `, as ${quote(`${choice.label.toLowerCase()} is ${choice.choices?.[0]}`)}` : ""}.`,
      0,
      pointer,
    );
  };
  if (brief.parts) {
    brief.parts.forEach((p, i) => {
      const t = typeOf(schema, p.start);
      narrow(p.start, `/parts/${i}`, ` (${t?.label.toLowerCase()})`);
    });
    if (brief.parts.length < 4) add("beside", "beside other records…", "Counts of other records in the same groups.");
  } else {
    const t = typeOf(schema, brief.start);
    const many = t?.label.toLowerCase() ?? "records";
    const names = (t?.fields ?? [])
      .filter((f) => f.kind !== "id")
      .slice(0, 3)
      .map((f) => f.label.toLowerCase());
    const money = t?.fields.find((f) => f.kind === "money" || f.kind === "number")?.label.toLowerCase();
    narrow(brief.start, "", "");
    if (!has("bring") && t?.backs.length)
      add(
        "bring",
        "with linked records…",
        `A row for each linked record, as each of their ${t.backs[0].label.toLowerCase()}.`,
      );
    add(
      "own",
      has("own") ? "another own field…" : "your own field…",
      `A field worked out for this report alone${money ? `, as ${quote(`${money} in bands`)}` : ""}.`,
      brief.own?.length ?? 0,
    );
    if (!has("columns")) add("columns", "columns…", `What the list of ${many} shows, as ${names.join(", ")}.`);
    add("beside", "beside other records…", `Counts of other records in the same groups as the ${many}.`);
  }
  if (groups < 4) {
    const t = typeOf(schema, brief.start ?? brief.parts?.[0]?.start);
    const choice = t?.fields.find((f) => f.choices?.length)?.label.toLowerCase();
    add(
      "groups",
      groups ? "then by…" : "by…",
      `One line for each value of a field${choice ? `, as each ${choice}` : ""}.`,
      groups,
    );
  }
  if (groups > 0 && across < 2)
    add(
      "across",
      across ? "then across…" : "across…",
      "One column for each value of a field, beside the groups.",
      across,
    );
  const totals = groups > 0 || (brief.summaries?.length ?? 0) > 0 || has("target");
  if (!brief.parts) {
    if (!has("compare") && has("period"))
      add("compare", "compared with…", "The same numbers of the period before, or of a year before.");
    if (!has("target") && totals) add("target", "a target…", "How much of an amount is reached, and what is missing.");
  }
  if (!has("asOf")) add("asOf", "as of a day…", "The records as they were then, as at the end of last quarter.");
  if (!has("chart") && (brief.parts ? groups > 0 : totals))
    add("chart", "drawn as…", "A chart of the groups, as columns or a funnel.");
  return list;
}
