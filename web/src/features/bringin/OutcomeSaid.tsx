import { fetched, type Schemas, type TypeInfo } from "../../api/client";
import { download } from "../../ui/download";
import { count } from "../../ui/figures";
import { tell } from "../../ui/tell";

/** The refused lines as a file, with why, to be corrected and brought in again. */
const takeRefused = async (id: string, plan: Schemas["BringPlan"]) =>
  download(await (await fetched(`/api/bring-in/${id}/refused`, JSON.stringify(plan))).blob(), "refused lines.csv");

/** What would come of a file: how many lines are new, change something, are as they are, or are refused and why. */
export function OutcomeSaid({
  outcome: o,
  type,
  fileID,
  plan,
}: {
  outcome: Schemas["OutcomeBody"];
  type: TypeInfo;
  fileID: string;
  plan: Schemas["BringPlan"];
}) {
  const made = Object.entries(o.makes);
  return (
    <>
      <dl className="grid grid-cols-[1fr_auto] gap-y-1">
        {[
          ["new", o.new],
          ["changed", o.changed],
          ["as they are", o.same],
          ["refused", o.refused],
        ].map(([label, n]) => (
          <div key={label} className="contents">
            <dt>
              {type.label} {label}
            </dt>
            <dd className={`text-right font-bold ${label === "refused" && n ? "text-rust" : ""}`}>
              {count(Number(n))}
            </dd>
          </div>
        ))}
        {made.map(([label, n]) => (
          <div key={label} className="contents">
            <dt>{label} made, by name alone</dt>
            <dd className="text-right font-bold">{count(n)}</dd>
          </div>
        ))}
      </dl>
      {o.refused > 0 && (
        <details className="mt-3" open={o.refused <= 5}>
          <summary className="cursor-pointer font-semibold">Why lines are refused</summary>
          <ul className="mt-1 max-h-52 overflow-auto text-[13px]">
            {o.lines.map((l) => (
              <li key={l.line} className="border-line border-b py-1 last:border-0">
                Line {l.line}
                {l.column && `, ${l.column}`}: {l.reason}
              </li>
            ))}
            {o.refused > o.lines.length && <li className="py-1">and {count(o.refused - o.lines.length)} more</li>}
          </ul>
          <button type="button" className="link mt-1" onClick={() => takeRefused(fileID, plan).catch(tell)}>
            Take the refused lines as a file
          </button>
        </details>
      )}
    </>
  );
}
