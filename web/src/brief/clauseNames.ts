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
  target: "target",
  chart: "chart",
  columns: "columns",
  order: "order",
} as const;

export type ClauseKind = keyof typeof clauseNames;

export const isClauseKind = (key: string): key is ClauseKind => key in clauseNames;
