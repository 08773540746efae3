import type { Schemas } from "../../api/client";
import { count } from "../../ui/figures";

/** How far a file is brought in, which can be stopped. */
export function UnderWay({ now, onStop }: { now?: Schemas["ProgressBody"]; onStop: () => void }) {
  const writing = now?.phase === "writing";
  const of = now?.of || 1;
  return (
    <div className="mt-3">
      <p className="mb-1 flex items-baseline gap-2" role="status">
        <span className="mr-auto">{writing ? "Writing" : "Looking at each line"} …</span>
        <span>
          {count(now?.done ?? 0)} of {count(now?.of ?? 0)}
        </span>
      </p>
      <progress
        className="h-2 w-full appearance-none overflow-hidden rounded bg-sunk [&::-webkit-progress-bar]:bg-sunk [&::-webkit-progress-value]:bg-[var(--amber)] [&::-moz-progress-bar]:bg-[var(--amber)]"
        aria-label="How far it is"
        max={of}
        value={now?.done ?? 0}
      />
      <button type="button" className="btn mt-2" onClick={onStop}>
        Stop, and write nothing
      </button>
    </div>
  );
}
