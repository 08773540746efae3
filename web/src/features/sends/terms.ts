import type { Brief, Schemas } from "../../api/client";

export type Terms = Schemas["Terms"];
export type When = Schemas["When"];

/** When something is sent, by the clock. */
export const clocked: [NonNullable<When["every"]>, string][] = [
  ["day", "every day"],
  ["workday", "every workday"],
  ["week", "every week"],
  ["month", "every month"],
  ["first_workday", "on the first workday of each month"],
];

/** What happens when it is sent. Of a dashboard nothing is looked for. */
export function happens(brief: Brief | undefined): [NonNullable<When["if"]>, string][] {
  if (!brief) return [];
  const one = !brief.parts;
  return [
    ["over", "when a number comes over a line"],
    ["under", "when a number comes under a line"],
    ...((one
      ? [
          ["comes", "when a record comes into it"],
          ["leaves", "when a record leaves it"],
        ]
      : []) as [NonNullable<When["if"]>, string][]),
    ...((brief.period && (brief.target || brief.targetOf) ? [["at_risk", "when its target is at risk"]] : []) as [
      NonNullable<When["if"]>,
      string,
    ][]),
  ];
}

export const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** What is at first sent: the picture, on Mondays, to oneself. */
export const begun = (me: number): Terms => ({
  when: { every: "week", on: 1, at: "08:00" },
  people: [me],
  teams: [],
  mail: true,
  picture: true,
});

/** Another kind of occasion: what the one before had and this has not is gone. */
export function switched(was: When, to: string): When {
  if (clocked.some(([k]) => k === to)) {
    const every = to as NonNullable<When["every"]>;
    const at = was.at ?? "08:00";
    const zone = was.zone ? { zone: was.zone } : {};
    if (every === "week" || every === "month")
      return { every, on: Math.min(was.on ?? 1, every === "week" ? 7 : 31), at, ...zone };
    return { every, at, ...zone };
  }
  const what = to as NonNullable<When["if"]>;
  if (what !== "over" && what !== "under") return { if: what };
  return { if: what, line: was.line ?? "", ...(was.summary ? { summary: was.summary } : {}) };
}
