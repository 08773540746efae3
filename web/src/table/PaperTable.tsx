import { Fragment } from "react";
import type { Answer, Schemas } from "../api/client";
import { keyOf } from "./outline";
import { useHeads } from "./useHeads";

type Records = Pick<Schemas["ListBody"], "columns" | "rows"> & { places?: Schemas["GroupedBody"]["places"] };

/**
 * The table as it is printed, whole: a table of the page's own, as only that repeats its header on every sheet. A group is
 * not parted from its first line; its records follow it under a header of their own.
 */
export function PaperTable({ answer: a, apart, records }: { answer: Answer; apart: boolean; records?: Records }) {
  const heads = useHeads(a);
  const places = new Map(records?.places?.map((p) => [keyOf(p), p]));
  const rows = a.groups.filter((g) => !g.across);
  return (
    <table className="w-full border-collapse text-[12px]">
      <thead>
        {heads.map((row, level) => (
          <tr
            key={row[0]?.key}
            className={level === heads.length - 1 ? "border-ink border-b align-bottom" : "align-bottom"}
          >
            <th className="px-1 py-1 text-left">
              {level === heads.length - 1 ? rows.map((g) => g.label).join(", then ") : ""}
            </th>
            {row.map((h) => (
              <th key={h.key} colSpan={h.span} className="px-1 py-1 text-right">
                {h.label}
              </th>
            ))}
          </tr>
        ))}
      </thead>
      <tbody>
        {a.lines.map((l, i) => {
          const place = places.get(keyOf(l));
          return (
            <Fragment key={keyOf(l) || "all"}>
              <tr
                className={`break-inside-avoid border-line border-b ${l.depth < rows.length || records ? "font-bold [break-after:avoid]" : ""} ${apart && i > 0 && l.depth === 1 ? "[break-before:page]" : ""}`}
              >
                <td className="px-1 py-0.5" style={{ paddingLeft: 4 + Math.max(0, l.depth - 1) * 14 }}>
                  {l.label}
                </td>
                {l.cells.flatMap((c, k) =>
                  c.map((text, n) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: cells are in the order of columns
                    <td key={`${k} ${n}`} className="px-1 py-0.5 text-right">
                      {text}
                      {l.before?.[k]?.[n]?.text && (
                        <span className="block text-[10px] font-normal text-ink2">{l.before[k][n].text}</span>
                      )}
                    </td>
                  )),
                )}
              </tr>
              {records && place && (
                <tr>
                  <td
                    colSpan={1 + a.columns.length * a.summaries.length}
                    className="p-0 pb-2"
                    style={{ paddingLeft: 4 + l.depth * 14 }}
                  >
                    <PaperRecords records={records} first={place.first} count={place.count} name={l.label} />
                  </td>
                </tr>
              )}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}

/** Records as they are printed, under their own header. */
export function PaperRecords({
  records,
  first,
  count,
  name,
}: {
  records: Records;
  first: number;
  count: number;
  name: string;
}) {
  return (
    <table className="w-full border-collapse text-[12px]" aria-label={name}>
      <thead>
        <tr className="border-ink border-b">
          {records.columns.map((c) => (
            <th key={c.field} className={`px-1 py-1 font-normal ${c.number ? "text-right" : "text-left"}`}>
              {c.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {records.rows.slice(first, first + count).map((r, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a record can be in several rows
          <tr key={i} className="break-inside-avoid border-line border-b">
            {r.cells.map((c, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: cells are in the order of columns
              <td key={k} className={`px-1 py-0.5 ${records.columns[k].number ? "text-right" : ""}`}>
                {c.text}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
