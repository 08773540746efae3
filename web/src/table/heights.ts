import type { Stretch } from "./outline";

/** How high the lines of a table are, in px: those of groups are all the same, and those of records. */
export type Heights = { group: number; record: number };

/** Where lines stand, in px from the first. */
export type Standing = {
  height: number;
  top: (line: number) => number;
  /** The line at a height; the first above all, the last below all. */
  line: (y: number) => number;
};

/** Where the lines of a table stand. It goes by stretches, so that a million records are as quick as ten. */
export function standing(list: Stretch[], count: number, { group, record }: Heights): Standing {
  const tops: number[] = [];
  let height = 0;
  for (const s of list) {
    tops.push(height);
    height += (s.line ? group : 0) + s.records * record;
  }
  const headOf = (s: Stretch) => (s.line ? 1 : 0);
  return {
    height,
    top: (line) => {
      const i = last(list.length, (i) => list[i].at <= line);
      const s = list[i];
      if (!s || line >= count) return height;
      const under = line - s.at - headOf(s);
      return tops[i] + (under < 0 ? 0 : headOf(s) * group + under * record);
    },
    line: (y) => {
      const i = last(list.length, (i) => tops[i] <= y);
      const s = list[i];
      if (!s) return 0;
      const under = y - tops[i] - headOf(s) * group;
      const line = s.at + (under < 0 ? 0 : headOf(s) + Math.floor(under / record));
      return Math.max(0, Math.min(count - 1, line));
    },
  };
}

/** The last of some for which something holds that holds for none after one for which it does not; 0 where for none. */
export function last(count: number, holds: (i: number) => boolean): number {
  let low = 0;
  let high = count - 1;
  while (low < high) {
    const mid = (low + high + 1) >> 1;
    if (holds(mid)) low = mid;
    else high = mid - 1;
  }
  return low;
}
