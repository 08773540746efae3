import { type ColumnDef, tableFeatures, useTable } from "@tanstack/react-table";
import { useMemo } from "react";
import type { Answer } from "../api/client";

const features = tableFeatures({});
const none: object[] = [];
type Def = ColumnDef<typeof features, object>;

/** A cell of a header: what it is called, and over how many columns it is. */
export type Head = { key: string; label: string; span: number };

/**
 * The rows of the header over groups: one a level of what is across, where neighbours of one group share a cell, and one
 * of the summaries. With a single summary its name need not stand over every column: the last level is the last row.
 */
export function useHeads(answer: Pick<Answer, "columns" | "summaries" | "groups">): Head[][] {
  const { columns, summaries, groups } = answer;
  const defs = useMemo(() => {
    const levels = groups.filter((g) => g.across).length;
    const merged = levels > 0 && summaries.length === 1;
    const over = (from: number, to: number, level: number): Def[] => {
      const out: Def[] = [];
      for (let i = from; i < to; ) {
        const label = labelAt(columns[i].labels, level);
        let end = i + 1;
        if (level < levels - 1) while (end < to && label !== "" && labelAt(columns[end].labels, level) === label) end++;
        const id = `${level}:${i}`;
        if (merged && level === levels - 1) out.push({ id, header: label || "All" });
        else out.push({ id, header: label, columns: level < levels - 1 ? over(i, end, level + 1) : named(i, end) });
        i = end;
      }
      return out;
    };
    const named = (from: number, to: number): Def[] =>
      columns
        .slice(from, to)
        .flatMap((_, i) => summaries.map((s) => ({ id: `${from + i} ${s.key}`, header: s.label })));
    return levels > 0 ? over(0, columns.length, 0) : named(0, columns.length);
  }, [columns, summaries, groups]);
  const table = useTable({ features, columns: defs, data: none });
  return table
    .getHeaderGroups()
    .map((g) => g.headers.map((h) => ({ key: h.id, label: String(h.column.columnDef.header ?? ""), span: h.colSpan })));
}

/** What stands over a column at one level of across: its group there, or that it is a subtotal. */
const labelAt = (labels: string[], level: number) =>
  labels[level] ?? (labels.length === level ? (level === 0 ? "All" : "together") : "");
