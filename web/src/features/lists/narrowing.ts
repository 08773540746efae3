import type { Brief, Group, Mark, Tree } from "../../api/client";
import { conditions, withConditions } from "../../brief/edits";
import { same } from "../../ui/useSteps";

/**
 * What the chart beside a list narrows it to, step by step: at each step the conditions of the marks that were picked; by
 * are the fields that they were broken down by afterwards, marks those that are picked in the chart as it is now.
 */
export type Narrowing = { from: Tree[][]; by: Group[]; marks?: Mark[] };

export const notNarrowed: Narrowing = { from: [], by: [] };

/** The list with what the chart narrows it to. */
export const narrowedBy = (b: Brief, n: Narrowing): Brief => withConditions(b, [...conditions(b), ...n.from.flat()]);

/** What the chart is of: the list as it was before the marks that are picked in it now. */
export const drawnOf = (b: Brief, n: Narrowing): Brief =>
  withConditions(b, [...conditions(b), ...n.from.slice(0, n.by.length).flat()]);

/** Marks are picked in the chart, in place of those that were. */
export const picked = (n: Narrowing, conds: Tree[], marks: Mark[]): Narrowing => ({
  by: n.by,
  from: [...n.from.slice(0, n.by.length), conds],
  marks,
});

/** What is picked is drawn by another field. */
export const brokenDown = (n: Narrowing, by: Group): Narrowing => ({
  from: n.from,
  by: [...n.by, by],
});

/** One condition of the chart's is let go; a step without any goes, too. */
export function letGo(n: Narrowing, cond: Tree): Narrowing {
  const from = n.from.map((step) => step.filter((t) => !same(t, cond)));
  const gone = from.findIndex((step) => step.length === 0);
  const last = gone === n.by.length;
  if (gone < 0) return { ...n, from };
  return {
    ...(last ? {} : { marks: n.marks }),
    from: from.filter((_, i) => i !== gone),
    by: n.by.filter((_, i) => i !== gone),
  };
}

/**
 * A list that was edited as a sentence, in which conditions of the chart's stood: those that are still there are the
 * chart's, all others the list's own.
 */
export function taken(edited: Brief, n: Narrowing): { list: Brief; narrowing: Narrowing } {
  const now = conditions(edited);
  const own = now.filter((t) => !n.from.flat().some((f) => same(f, t)));
  const narrowing = n.from
    .flat()
    .filter((f) => !now.some((t) => same(f, t)))
    .reduce(letGo, n);
  return { list: withConditions(edited, own), narrowing };
}
