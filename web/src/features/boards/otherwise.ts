import type { Filters } from "../../api/panels";

/** What a dashboard is narrowed to, for other people or in another period. */
export function otherwise(was: Filters, whose: string, within: string) {
  const { whose: _, ...rest } = was;
  const [kind, id] = whose.split(" ");
  const of: Filters =
    whose === ""
      ? was
      : whose === "everyone"
        ? rest
        : { ...rest, whose: kind === "team" ? { teams: [id] } : { people: [id] } };
  return (within ? { ...of, period: within } : of) as Filters;
}
