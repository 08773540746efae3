import { DndContext } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useState } from "react";
import type { Brief, SchemaInfo, Schemas } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { type Found, fieldAt, isDated, isNumeric, typeOf } from "../fields/fields";
import { useSorting } from "../ui/useSorting";
import { moved } from "./edits";

type Column = Schemas["Column"];
type Format = Schemas["Format"];

/** Chooses the columns of the list: find and add on the left; order, name, shape and take out on the right; sorting below. */
export function ColumnsEditor({
  schema,
  brief,
  onChange,
}: {
  schema: SchemaInfo;
  brief: Brief;
  onChange: (b: Brief) => void;
}) {
  const columns: Column[] = brief.columns?.length
    ? brief.columns
    : (typeOf(schema, brief.start)?.shown ?? []).map((field) => ({ field }));
  const put = (list: Column[]) => onChange({ ...brief, columns: list });
  // Those that are ticked, to be removed in one go; with Shift, all from the one ticked last.
  const [ticked, setTicked] = useState<string[]>([]);
  const chosen = ticked.filter((f) => columns.some((c) => c.field === f));
  const tick = (field: string, range: boolean) => {
    const fields = columns.map((c) => c.field);
    const [from, to] = [fields.indexOf(chosen[chosen.length - 1] ?? field), fields.indexOf(field)];
    if (chosen.includes(field)) return setTicked(chosen.filter((f) => f !== field));
    const more = range ? fields.slice(Math.min(from, to), Math.max(from, to) + 1) : [field];
    setTicked([...chosen.filter((f) => !more.includes(f)), ...more.filter((f) => f !== field), field]);
  };
  const at = (path: string) => fieldAt(schema, brief.start, path);
  const name = (path: string) => at(path)?.label ?? path;
  const sorting = useSorting(
    columns.map((c) => ({ id: c.field, name: name(c.field) })),
    (id) => name(String(id).replace(/^add /, "")),
  );
  return (
    <DndContext
      {...sorting}
      onDragEnd={({ active, over }) => {
        const to = columns.findIndex((c) => c.field === over?.id);
        const added = String(active.id).startsWith("add ") ? String(active.id).slice(4) : undefined;
        if (added) {
          if (to >= 0) put([...columns.slice(0, to), { field: added }, ...columns.slice(to)]);
          return;
        }
        const from = columns.findIndex((c) => c.field === active.id);
        if (from >= 0 && to >= 0 && from !== to) put(moved(columns, from, to));
      }}
    >
      <div className="grid grid-cols-2 gap-4 max-sm:grid-cols-1">
        <FieldFinder
          schema={schema}
          start={brief.start as string}
          label="Find a field to add as a column"
          fits={(f: Found) => !columns.some((c) => c.field === f.path)}
          onPick={(f) => put([...columns, { field: f.path }])}
          onPickAll={(list) => put([...columns, ...list.map((f) => ({ field: f.path }))])}
        />
        <div>
          <p className="mb-1 flex leading-8">
            <span className="mr-auto text-ink2" aria-live="polite">
              {chosen.length ? `${chosen.length} chosen` : "Shown, from left to right"}
            </span>
            {chosen.length > 0 && (
              <button
                type="button"
                className="link mr-3 text-[13px]"
                disabled={chosen.length === columns.length}
                title={chosen.length === columns.length ? "One column stays" : undefined}
                onClick={() => {
                  put(columns.filter((c) => !chosen.includes(c.field)));
                  setTicked([]);
                }}
              >
                Remove them
              </button>
            )}
            {(brief.columns?.length ?? 0) > 0 && (
              <button
                type="button"
                className="link text-[13px]"
                onClick={() => {
                  const { columns: _, ...rest } = brief;
                  onChange(rest);
                }}
              >
                Back to the usual ones
              </button>
            )}
          </p>
          <SortableContext items={columns.map((c) => c.field)} strategy={verticalListSortingStrategy}>
            <ul aria-label="Columns shown" className="max-h-[330px] overflow-auto">
              {columns.map((c, i) => (
                <Shown
                  key={c.field}
                  column={c}
                  kind={at(c.field)?.field.kind ?? "text"}
                  name={name(c.field)}
                  first={i === 0}
                  last={i === columns.length - 1}
                  alone={columns.length === 1}
                  chosen={chosen.includes(c.field)}
                  onTick={(range) => tick(c.field, range)}
                  onMove={(by) => put(moved(columns, i, i + by))}
                  onDrop={() => put(columns.filter((_, k) => k !== i))}
                  onShape={(next) => put(columns.map((x, k) => (k === i ? next : x)))}
                />
              ))}
            </ul>
          </SortableContext>
          <Sorting brief={brief} columns={columns} name={name} onChange={onChange} />
        </div>
      </div>
    </DndContext>
  );
}

/** The fields that the list is sorted by, the first deciding before the next. */
function Sorting({
  brief,
  columns,
  name,
  onChange,
}: {
  brief: Brief;
  columns: Column[];
  name: (path: string) => string;
  onChange: (b: Brief) => void;
}) {
  const order = brief.order ?? [];
  const put = (list: typeof order) => {
    const { order: _, ...rest } = brief;
    onChange(list.length ? { ...rest, order: list } : rest);
  };
  const left = columns.filter((c) => !order.some((o) => o.field === c.field));
  return (
    <div className="mt-2 border-line border-t pt-2">
      {order.map((o, i) => (
        <p key={o.field} className="flex items-center gap-1.5">
          <span className="mr-auto">
            {i === 0 ? "Sorted by" : "then by"} <strong>{name(o.field)}</strong>
          </span>
          <button
            type="button"
            className="link text-[13px]"
            onClick={() =>
              put(order.map((x, k) => (k === i ? (x.desc ? { field: x.field } : { field: x.field, desc: true }) : x)))
            }
          >
            {o.desc ? "downwards" : "upwards"}
          </button>
          <button
            type="button"
            className="btn btn-quiet !px-1.5"
            disabled={i === 0}
            aria-label={`Sort by ${name(o.field)} earlier`}
            onClick={() => put(moved(order, i, i - 1))}
          >
            ↑
          </button>
          <button
            type="button"
            className="btn btn-quiet !px-1.5"
            aria-label={`Do not sort by ${name(o.field)}`}
            onClick={() => put(order.filter((_, k) => k !== i))}
          >
            ×
          </button>
        </p>
      ))}
      {left.length > 0 && (
        <select
          className="input mt-1"
          aria-label="Sort by"
          value=""
          onChange={(e) => e.target.value && put([...order, { field: e.target.value }])}
        >
          <option value="">{order.length ? "Sort further by …" : "Sort by …"}</option>
          {left.map((c) => (
            <option key={c.field} value={c.field}>
              {name(c.field)}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}

function Shown({
  column,
  kind,
  name,
  first,
  last,
  alone,
  chosen,
  onTick,
  onMove,
  onDrop,
  onShape,
}: {
  column: Column;
  kind: string;
  name: string;
  first: boolean;
  last: boolean;
  alone: boolean;
  chosen: boolean;
  onTick: (range: boolean) => void;
  onMove: (by: number) => void;
  onDrop: () => void;
  onShape: (c: Column) => void;
}) {
  const s = useSortable({ id: column.field });
  const [open, setOpen] = useState(false);
  return (
    <li
      ref={s.setNodeRef}
      style={{ transform: CSS.Translate.toString(s.transform), transition: s.transition }}
      className="rounded py-0.5 pl-1 hover:bg-sunk"
    >
      <div className="flex items-center gap-0.5">
        <input
          type="checkbox"
          className="mr-1.5"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={(e) => onTick((e.nativeEvent as MouseEvent).shiftKey)}
        />
        <button
          type="button"
          className="mr-auto cursor-grab text-left"
          {...s.attributes}
          {...s.listeners}
          aria-label={`Move ${name}`}
        >
          {column.label || name}
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1.5"
          aria-label={`Shape ${name}`}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          …
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1.5"
          disabled={first}
          aria-label={`${name} earlier`}
          onClick={() => onMove(-1)}
        >
          ↑
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1.5"
          disabled={last}
          aria-label={`${name} later`}
          onClick={() => onMove(1)}
        >
          ↓
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1.5"
          disabled={alone}
          aria-label={`Remove ${name}`}
          onClick={onDrop}
        >
          ×
        </button>
      </div>
      {open && <Shape column={column} kind={kind} name={name} onShape={onShape} />}
    </li>
  );
}

/** How a column is headed and written; it changes no value. */
function Shape({
  column,
  kind,
  name,
  onShape,
}: {
  column: Column;
  kind: string;
  name: string;
  onShape: (c: Column) => void;
}) {
  const shape = (f: Format) => {
    const next = Object.fromEntries(
      Object.entries({ ...column.format, ...f }).filter(([, v]) => v !== undefined && v !== ""),
    ) as Format;
    const { format: _, ...rest } = column;
    onShape(Object.keys(next).length ? { ...rest, format: next } : rest);
  };
  return (
    <div className="my-1 grid grid-cols-2 gap-2 rounded bg-sunk p-2 text-[13px]">
      <label className="col-span-2">
        Header
        <input
          className="input"
          value={column.label ?? ""}
          placeholder={name}
          maxLength={100}
          onChange={(e) => {
            const { label: _, ...rest } = column;
            onShape(e.target.value ? { ...rest, label: e.target.value } : rest);
          }}
        />
      </label>
      {isNumeric(kind) && (
        <>
          <label>
            Decimals
            <select
              className="input"
              value={column.format?.decimals ?? ""}
              onChange={(e) => shape({ decimals: e.target.value === "" ? undefined : Number(e.target.value) })}
            >
              <option value="">as it is</option>
              {[0, 1, 2, 3, 4].map((n) => (
                <option key={n} value={n}>
                  {n}
                </option>
              ))}
            </select>
          </label>
          <label>
            Unit
            <select
              className="input"
              value={column.format?.unit ?? ""}
              onChange={(e) => shape({ unit: (e.target.value || undefined) as Format["unit"] })}
            >
              <option value="">in full</option>
              <option value="K">thousands (K)</option>
              <option value="M">millions (M)</option>
            </select>
          </label>
        </>
      )}
      {isDated(kind) && (
        <label>
          Date
          <select
            className="input"
            value={column.format?.date ?? ""}
            onChange={(e) => shape({ date: (e.target.value || undefined) as Format["date"] })}
          >
            <option value="">14 May 2026</option>
            <option value="weekday">Thu 14 May 2026</option>
            <option value="month">May 2026</option>
            <option value="number">2026-05-14</option>
          </select>
        </label>
      )}
      <label>
        Width
        <select
          className="input"
          value={column.format?.width ?? ""}
          onChange={(e) => shape({ width: e.target.value ? Number(e.target.value) : undefined })}
        >
          <option value="">as it fits</option>
          <option value="90">narrow</option>
          <option value="160">medium</option>
          <option value="280">wide</option>
          <option value="420">very wide</option>
        </select>
      </label>
    </div>
  );
}
