/** The roles, and what each may do. */
export const roles = [
  { value: "reader", label: "reader: reads, asks further, keeps reports of their own" },
  { value: "composer", label: "composer: makes reports and dashboards for others" },
  { value: "administrator", label: "administrator: sets everything up" },
] as const;

export type Role = (typeof roles)[number]["value"];
