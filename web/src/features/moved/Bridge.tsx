import type { Schemas } from "../../api/client";
import { count } from "../../ui/figures";
import { Bar } from "./Bar";

type Step = Schemas["MoveStepBody"];

/** The steps as a table in which each has a bar that begins where the one before it ended. */
export function Bridge({
  steps,
  summaries,
  drawn,
  open,
  onOpen,
}: {
  steps: Step[];
  summaries: string[];
  /** What the bars are of. */
  drawn: string;
  open?: string;
  onOpen: (step: string | undefined) => void;
}) {
  const kept = summaries.map((name, i) => ({ name, i }));
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="text-left text-[12px] text-ink2">
          <th className="py-1 pr-3 font-normal">step</th>
          <td className="w-[34%]">{drawn}</td>
          <th className="px-2 text-right font-normal">records</th>
          {kept.map(({ name }) => (
            <th key={name} className="px-2 text-right font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {steps.map((s) => (
          <tr key={s.step} className={`border-line border-t ${open === s.step ? "bg-sea-soft" : ""}`}>
            <th scope="row" className={`py-1.5 pr-3 text-left ${s.total ? "font-bold" : "font-normal"}`}>
              {s.records > 0 ? (
                <button
                  type="button"
                  className="link text-left"
                  aria-expanded={open === s.step}
                  onClick={() => onOpen(open === s.step ? undefined : s.step)}
                >
                  {s.words}
                </button>
              ) : (
                s.words
              )}
            </th>
            <td aria-hidden="true">
              <Bar
                from={s.from}
                to={s.to}
                zero={s.zero}
                colour={s.total ? "var(--ink)" : s.sign < 0 ? "var(--rust)" : "var(--sea)"}
                leads={!s.total}
              />
            </td>
            <td className="figures px-2 text-right">{count(s.records)}</td>
            {kept.map(({ name, i }) => (
              <td key={name} className={`figures px-2 text-right ${s.total ? "font-bold" : ""}`}>
                {s.values[i]}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
