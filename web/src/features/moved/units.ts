/** At whose ends it is told how a report stood. */
export type Unit = "day" | "week" | "month";

/** How many points are told of each unit: a quarter, a quarter and a year. */
export const points: Record<Unit, number> = { day: 90, week: 13, month: 12 };

/** The units as they are chosen from. */
export const units: [Unit, string][] = [
  ["day", "Days"],
  ["week", "Weeks"],
  ["month", "Months"],
];
