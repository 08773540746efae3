import { columnResizingFeature, columnSizingFeature, tableFeatures, useTable } from "@tanstack/react-table";
import { useEffect, useMemo, useRef } from "react";
import type { ListPage } from "../api/client";
import { leastWidths, sum, template } from "./widths";

const features = tableFeatures({ columnSizingFeature, columnResizingFeature });
const none: ListPage["rows"] = [];

/** The narrowest and the widest that a column may be made, in px. */
export const columnLimits = { least: 40, most: 800 };

/**
 * The columns of records with their widths: those that were kept, else as much as their values need. While the edge of a
 * column is pulled, all its cells go along; onSize is told once it is let go.
 */
export function useRecordColumns(
  columns: ListPage["columns"],
  rows: ListPage["rows"],
  onSize?: (index: number, width: number) => void,
) {
  const least = useMemo(() => leastWidths(columns, rows), [columns, rows]);
  const defs = useMemo(
    () =>
      columns.map((c, i) => ({
        id: c.field,
        header: c.label,
        size: least[i],
        minSize: columnLimits.least,
        maxSize: columnLimits.most,
      })),
    [columns, least],
  );
  const table = useTable({ features, columns: defs, data: none, columnResizeMode: "onChange" });
  const { columnSizing: pulled, columnResizing } = table.state;
  const pulling = columnResizing.isResizingColumn;
  const was = useRef<string | false>(false);
  useEffect(() => {
    const released = was.current;
    was.current = pulling;
    if (pulling || !released) return;
    const index = columns.findIndex((c) => c.field === released);
    const width = Math.round(pulled[released] ?? 0);
    if (width > 0) onSize?.(index, width);
    table.resetColumnSizing(true);
  });
  const widths = columns.map((c, i) => pulled[c.field] ?? least[i]);
  const shown = columns.map((c) => (pulled[c.field] ? { ...c, width: Math.round(pulled[c.field]) } : c));
  return {
    columns,
    least: widths,
    width: sum(widths),
    template: template(shown, widths),
    /** What starts the pulling of a column's edge; it starts from the width that the column has on the screen. */
    pull: (index: number) => (e: React.MouseEvent | React.TouchEvent) => {
      const field = columns[index].field;
      const now = e.currentTarget.parentElement?.offsetWidth;
      if (now) table.setColumnSizing((s) => ({ ...s, [field]: now }));
      table
        .getFlatHeaders()
        .find((h) => h.id === field)
        ?.getResizeHandler()(e);
    },
  };
}
