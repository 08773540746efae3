import type { Schemas } from "../../api/client";

type Line = { labels: string[] };

/** Groups, each with its values, and the total last: what was kept, or what was beside what is. */
export function KeptLines<L extends Line>({
  name,
  groups,
  heads,
  lines,
  cells,
}: {
  name: string;
  groups: string[];
  heads: React.ReactNode[];
  lines: L[];
  cells: (line: L) => React.ReactNode[];
}) {
  return (
    <table className="w-full border-collapse text-[14px]" aria-label={name}>
      <thead>
        <tr className="text-[12px] text-ink2">
          {(groups.length ? groups : [""]).map((g, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two groups may be called the same
            <th key={i} className="py-1 pr-3 text-left font-normal">
              {g}
            </th>
          ))}
          {heads.map((h, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: heads are in the order of values
            <th key={i} className="px-2 text-right font-normal">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines.map((l, n) => {
          const total = n === lines.length - 1;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: groups may be called the same
            <tr key={n} className={`border-line border-t ${total ? "font-bold" : ""}`}>
              {total ? (
                <th scope="row" className="py-1 pr-3 text-left" colSpan={Math.max(1, groups.length)}>
                  All
                </th>
              ) : (
                l.labels.map((label, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: labels are in the order of groups
                  <td key={i} className="py-1 pr-3">
                    {label}
                  </td>
                ))
              )}
              {cells(l).map((c, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: cells are in the order of values
                <td key={i} className="figures px-2 text-right">
                  {c}
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** A kept result beside what it is now. */
export function AgainstLines({ against: a }: { against: Schemas["AgainstBody"] }) {
  const one = a.summaries.length === 1;
  return (
    <>
      <KeptLines
        name="Then and now"
        groups={a.groups}
        heads={a.summaries.flatMap((s) =>
          one ? [`${s}, then`, "now", "change"] : [`${s}, then`, `${s}, now`, `${s}, change`],
        )}
        lines={a.lines}
        cells={(l) =>
          l.cells.flatMap((c) => [
            <span key="then" className="text-ink2">
              {c.was || "–"}
            </span>,
            c.now || "–",
            <span key="change" className={c.way > 0 ? "text-sea" : c.way < 0 ? "text-rust" : "text-ink2"}>
              {c.change || "–"}
            </span>,
          ])
        }
      />
      {a.left > 0 && (
        <p className="mt-2 text-[13px] text-ink2">
          {a.left} {a.left === 1 ? "group is" : "groups are"} not compared one by one; the total is of all.
        </p>
      )}
    </>
  );
}
