import type { Brief, Report } from "../api/client";
import { same } from "../ui/useSteps";

/** The members of a report that another has otherwise, null for those it has not: what an address carries of a reading. */
export function difference(was: Brief, now: Brief): Record<string, unknown> {
  const [a, b] = [was, now] as unknown as Record<string, unknown>[];
  const changed = [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => !same(a[key], b[key]));
  return Object.fromEntries(changed.map((key) => [key, b[key] ?? null]));
}

/** A report with the members that an address changes; those that it names null are gone. */
export function changedBy(was: Brief, difference: object | undefined): Brief {
  const all = Object.entries({ ...was, ...difference }).filter(([, v]) => v !== null && v !== undefined);
  return Object.fromEntries(all) as unknown as Brief;
}

/** A report that an address carries, or what it changes in one; nothing where it cannot be read. */
export function fromAddress(text: string | null): Brief | undefined {
  try {
    return text ? (JSON.parse(text) as Brief) : undefined;
  } catch {
    return undefined;
  }
}

/** A reading of a report, to which the conditions hold that its owner fixed, whatever else is changed. */
export function held(b: Brief, report?: Report): Brief {
  const { reading: _, ...rest } = b;
  return report?.brief.reading ? { ...rest, reading: report.brief.reading } : rest;
}
