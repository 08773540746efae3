import type { Answer, Schemas } from "../api/client";
import { last } from "./heights";

export type GroupLine = Schemas["GroupLine"];
type Place = Schemas["GroupPlace"];

/** A stretch of a table's lines: a group, if there is one, and the records that follow it. */
export type Stretch = { line?: GroupLine; at: number; records: number; first: number };

export const keyOf = (line: { keys: string[] }) => line.keys.join("\n");

/**
 * The lines of a table of groups, those of closed ones left out, with the records under the innermost ones that are open.
 * at is where a stretch begins among all lines: the group itself, then its records; first is where these are among all.
 */
export function outline(
  lines: Answer["lines"],
  places: Map<string, Place> | undefined,
  closed: (key: string) => boolean,
): { list: Stretch[]; count: number } {
  const list: Stretch[] = [];
  let at = 0;
  let under = Number.POSITIVE_INFINITY; // the depth of a closed group, whose own are left out
  for (const line of lines) {
    if (line.depth > under) continue;
    under = Number.POSITIVE_INFINITY;
    const shut = line.depth > 0 && closed(keyOf(line));
    if (shut) under = line.depth;
    const place = line.inner && !shut ? places?.get(keyOf(line)) : undefined;
    list.push({ line, at, records: place?.count ?? 0, first: place?.first ?? 0 });
    at += 1 + (place?.count ?? 0);
  }
  return { list, count: at };
}

/** The lines of a table without groups: its records alone. */
export const listOnly = (records: number) => ({ list: [{ at: 0, records, first: 0 }] as Stretch[], count: records });

/** What a line shows: a group, or a record by its index among all. */
export function lineAt(
  list: Stretch[],
  at: number,
): { group: GroupLine; record?: undefined } | { record: number; group?: undefined } | undefined {
  const s = list[last(list.length, (i) => list[i].at <= at)];
  if (!s) return undefined;
  const head = s.line ? 1 : 0;
  if (at < s.at || at >= s.at + head + s.records) return undefined;
  return s.line && at === s.at ? { group: s.line } : { record: s.first + at - s.at - head };
}

/** On which line a record is, by its index among all; on the first where it is in a closed group. */
export function lineOf(list: Stretch[], record: number): number {
  const s = list.find((s) => record >= s.first && record < s.first + s.records);
  return s ? s.at + (s.line ? 1 : 0) + record - s.first : 0;
}
