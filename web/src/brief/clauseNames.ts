import type { HelpPage } from "../ui/help";

/** What each kind of clause is called for those who do not see its words. What is not here is said and not pressed. */
export const clauseNames = {
  records: "records",
  part: "name of these records",
  beside: "other records",
  bring: "linked records",
  whose: "whose",
  period: "period",
  filter: "condition",
  own: "own field",
  groups: "group",
  across: "across",
  summaries: "summary",
  compare: "comparison",
  asOf: "as of which day",
  periods: "whose periods",
  money: "currency of amounts",
  target: "target",
  chart: "chart",
  columns: "columns",
  order: "order",
} as const;

/** The page of the guide that each kind of clause is explained on. */
export const helpOfClause: Record<ClauseKind, HelpPage> = {
  records: "records",
  part: "records",
  beside: "records",
  bring: "records",
  whose: "whose",
  period: "whose",
  filter: "conditions",
  own: "groups",
  groups: "groups",
  across: "groups",
  summaries: "groups",
  compare: "whose",
  asOf: "moved",
  periods: "moved",
  money: "currencies",
  target: "targets",
  chart: "charts",
  columns: "columns",
  order: "columns",
};

export type ClauseKind = keyof typeof clauseNames;

export const isClauseKind = (key: string): key is ClauseKind => key in clauseNames;
