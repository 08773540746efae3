import { count } from "../../ui/figures";

/** How far work on many records is. */
export const Meter = ({ now }: { now?: { done: number; of: number } }) =>
  now ? (
    <span className="inline-flex items-center gap-2 text-[13px]">
      <progress className="h-2 w-40 accent-[var(--sea)]" value={now.done} max={now.of} aria-label="How far it is" />
      {count(now.done)} of {count(now.of)}
    </span>
  ) : null;
