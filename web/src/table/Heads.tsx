import { useMemo, useRef } from "react";
import type { Answer, ListPage } from "../api/client";
import { type ColumnEdit, type HeadActs, HeadCell } from "./HeadCell";
import type { Head } from "./useHeads";
import type { useRecordColumns } from "./useRecordColumns";

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** The header over groups: the levels of what is across, then the summaries. */
export function GroupHeads({
  heads,
  answer,
  template,
  inView,
}: {
  heads: Head[][];
  answer: Answer;
  template: string;
  inView?: React.CSSProperties;
}) {
  const names = answer.groups.filter((g) => !g.across).map((g) => cap(g.label));
  return heads.map((row, level) => {
    const last = level === heads.length - 1;
    return (
      <div key={row[0]?.key} role="row" className="grid" style={{ gridTemplateColumns: template, ...inView }}>
        <div role="columnheader" className="th sticky left-0 bg-paper px-2 py-1.5">
          {last ? names.join(", then ") : ""}
        </div>
        {row.map((h) => (
          <div
            key={h.key}
            role="columnheader"
            aria-colspan={h.span}
            className={`th px-2 !text-right ${last ? "py-1.5" : "border-line border-l py-1"}`}
            style={{ gridColumn: `span ${h.span}` }}
          >
            {h.label}
          </div>
        ))}
      </div>
    );
  });
}

type Heads = {
  record: ReturnType<typeof useRecordColumns>;
  template: string;
  /** Whether it is under a header of groups. */
  under: boolean;
  /** Whether all records are chosen; undefined where some are. */
  chosen?: boolean;
  /** Chooses all records, or none. */
  onChoose?: (all: boolean) => void;
  sorted?: { field: string; desc?: boolean };
  onSort?: (field: string, number: boolean, desc?: boolean) => void;
  onEdit?: (columns: ListPage["columns"], index: number, edit: ColumnEdit) => void;
};

/** The header over records. */
export function RecordHeads(p: Heads) {
  const { columns, least, width } = p.record;
  // Heads stay as they are from answer to answer: what they do goes by what is there when they are asked.
  const now = useRef(p);
  now.current = p;
  const acts = useMemo<HeadActs>(
    () => ({
      sort: (...by) => now.current.onSort?.(...by),
      edit: (i, edit) => now.current.onEdit?.(now.current.record.columns, i, edit),
      pull: (i, e) => now.current.record.pull(i)(e),
    }),
    [],
  );
  return (
    <div
      role="row"
      aria-label={p.under ? "Header of the records" : undefined}
      className={`grid ${p.under ? "border-line border-t bg-ground text-[13px]" : ""}`}
      style={{ gridTemplateColumns: p.template, minWidth: width }}
    >
      {p.under && <span />}
      {p.onChoose && (
        <div role="columnheader" className="grid place-items-center">
          <input
            type="checkbox"
            aria-label="Choose all records"
            checked={p.chosen === true}
            ref={(box) => {
              if (box) box.indeterminate = p.chosen === undefined;
            }}
            onChange={() => p.onChoose?.(p.chosen === false)}
          />
        </div>
      )}
      {columns.map((c, i) => (
        <HeadCell
          key={c.field}
          column={c}
          index={i}
          width={p.onEdit ? least[i] : 0}
          last={i === columns.length - 1}
          sorted={p.sorted?.field !== c.field ? undefined : p.sorted.desc ? "descending" : "ascending"}
          sorts={!!p.onSort}
          edits={!!p.onEdit}
          acts={acts}
        />
      ))}
    </div>
  );
}
