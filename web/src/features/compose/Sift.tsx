import { useState } from "react";
import type { Brief, Schemas } from "../../api/client";
import { api, ask } from "../../api/client";
import { Table } from "../../table/Table";
import { Drawer } from "../../ui/Drawer";
import { count } from "../../ui/figures";

type Step = Schemas["StepBody"];

/** How many records each condition left, in order, on one line; each step opens what it took out. */
export function Sift({ brief, steps, part = 0 }: { brief: Brief; steps?: Step[]; part?: number }) {
  const [open, setOpen] = useState<number>();
  if (!steps || steps.length < 2) return null;
  const all = Math.max(1, steps[0].left);
  // A wide step for many records, a narrow one for few, none too narrow to be read.
  const width = (s: Step) => 14 + 30 * Math.sqrt(s.left / all);
  return (
    <>
      <ol
        className="flex min-w-[40%] flex-1 gap-[3px] overflow-hidden rounded-md"
        aria-label="The sift: records left after each condition"
      >
        {steps.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
          <li key={i} className="min-w-0" style={{ flex: `${width(s)} 1 0` }}>
            <button
              type="button"
              className={`block h-7 w-full truncate px-2 text-left text-[13px] ${i === steps.length - 1 ? "bg-sea-soft" : "bg-sunk"} ${i === 0 ? "cursor-default" : "hover:bg-amber-soft"}`}
              disabled={i === 0 || s.out === 0}
              style={{ opacity: 1 }}
              title={i === 0 ? undefined : s.out === 0 ? "takes nothing out" : `takes out ${count(s.out)}: see them`}
              onClick={() => setOpen(i)}
            >
              <strong>{count(s.left)}</strong> <span className="text-ink2">{i === 0 ? "in all" : s.words}</span>
            </button>
          </li>
        ))}
      </ol>
      <Drawer
        open={open !== undefined}
        onClose={() => setOpen(undefined)}
        title={open === undefined ? "" : `Taken out by “${steps[open].words}”`}
        note="Records that the conditions before it left, and this one did not."
      >
        {open !== undefined && (
          <Table
            brief={brief}
            height="calc(100vh - 170px)"
            from={`dropped ${part} ${open}`}
            fetch={(from, count) =>
              ask(api.POST("/api/dropped", { body: { brief, part, step: open - 1, from, count } }))
            }
          />
        )}
      </Drawer>
    </>
  );
}
