import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { Brief, SchemaInfo } from "../../api/client";
import { moved } from "./edits";
import { FieldFinder } from "./FieldFinder";
import { fieldAt, typeOf } from "./fields";

/** Chooses the columns of the list: find and add on the left, order and take out on the right. */
export function ColumnsEditor({ schema, brief, onChange }: { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void }) {
  const columns = brief.columns?.length ? brief.columns : (typeOf(schema, brief.start)?.shown ?? []).map((field) => ({ field }));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const put = (list: typeof columns) => onChange({ ...brief, columns: list });
  const name = (path: string) => fieldAt(schema, brief.start, path)?.label ?? path;
  return (
    <div className="grid grid-cols-2 gap-4">
      <FieldFinder
        schema={schema}
        start={brief.start as string}
        label="Find a field to add as a column"
        fits={(f) => !columns.some((c) => c.field === f.path)}
        onPick={(f) => put([...columns, { field: f.path }])}
      />
      <div>
        <p className="mb-2 leading-8 text-ink2">Shown, from left to right</p>
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            const from = columns.findIndex((c) => c.field === active.id);
            const to = columns.findIndex((c) => c.field === over?.id);
            if (from >= 0 && to >= 0 && from !== to) put(moved(columns, from, to));
          }}
        >
          <SortableContext items={columns.map((c) => c.field)} strategy={verticalListSortingStrategy}>
            <ul aria-label="Columns shown" className="max-h-[290px] overflow-auto">
              {columns.map((c, i) => (
                <Shown
                  key={c.field}
                  id={c.field}
                  name={name(c.field)}
                  first={i === 0}
                  last={i === columns.length - 1}
                  alone={columns.length === 1}
                  onMove={(by) => put(moved(columns, i, i + by))}
                  onDrop={() => put(columns.filter((_, k) => k !== i))}
                />
              ))}
            </ul>
          </SortableContext>
        </DndContext>
      </div>
    </div>
  );
}

function Shown({
  id,
  name,
  first,
  last,
  alone,
  onMove,
  onDrop,
}: {
  id: string;
  name: string;
  first: boolean;
  last: boolean;
  alone: boolean;
  onMove: (by: number) => void;
  onDrop: () => void;
}) {
  const s = useSortable({ id });
  return (
    <li
      ref={s.setNodeRef}
      style={{ transform: CSS.Translate.toString(s.transform), transition: s.transition }}
      className="flex items-center gap-1 rounded py-0.5 pl-1 hover:bg-sunk"
    >
      <button type="button" className="mr-auto cursor-grab text-left" {...s.attributes} {...s.listeners} aria-label={`Move ${name}`}>
        {name}
      </button>
      <button type="button" className="btn btn-quiet !px-1.5" disabled={first} aria-label={`${name} earlier`} onClick={() => onMove(-1)}>
        ↑
      </button>
      <button type="button" className="btn btn-quiet !px-1.5" disabled={last} aria-label={`${name} later`} onClick={() => onMove(1)}>
        ↓
      </button>
      <button type="button" className="btn btn-quiet !px-1.5" disabled={alone} aria-label={`Take out ${name}`} onClick={onDrop}>
        ×
      </button>
    </li>
  );
}
