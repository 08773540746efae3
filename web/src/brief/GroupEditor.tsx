import { useState } from "react";
import type { Brief, Group, SchemaInfo, Summary } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { type Found, fieldAt, isDated } from "../fields/fields";
import { Seg } from "../ui/Seg";
import { dropGroup, moveGroup, setGroup, swapAxes, tidy } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void };

/** Every field groups; a number of a record only its own, one group a record. */
const groupable = (f: Found) => f.field.kind !== "id" || f.path === "id";

export function GroupEditor({
  schema,
  brief,
  onChange,
  axis,
  at,
  onDone,
}: Props & { axis: "groups" | "across"; at: number; onDone: () => void }) {
  const list = brief[axis] ?? [];
  const g: Group | undefined = list[at];
  const [choosing, setChoosing] = useState(!g);
  const start = brief.start as string;
  const found = g?.field ? fieldAt(schema, start, g.field) : undefined;
  if (choosing || !g) {
    return (
      <FieldFinder
        schema={schema}
        start={start}
        label="Find a field to group by"
        fits={groupable}
        onPick={(f) => {
          onChange(
            setGroup(brief, axis, at, isDated(f.field.kind) ? { field: f.path, by: "month" } : { field: f.path }),
          );
          setChoosing(false);
        }}
      />
    );
  }
  const put = (change: Partial<Group>) => onChange(setGroup(brief, axis, at, { ...g, ...change }));
  const summaries = brief.summaries?.length ? brief.summaries : [{ key: "count", fn: "count" } as Summary];
  return (
    <div>
      <div className="mb-2 flex items-center gap-1">
        <button
          type="button"
          className="btn btn-quiet !px-1 font-semibold underline decoration-dotted"
          title="Choose another field"
          onClick={() => setChoosing(true)}
        >
          {found?.label ?? g.field}
        </button>
        <span className="ml-auto" />
        {list.length > 1 && (
          <>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              disabled={at === 0}
              onClick={() => onChange(moveGroup(brief, axis, at, -1))}
            >
              Earlier
            </button>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              disabled={at === list.length - 1}
              onClick={() => onChange(moveGroup(brief, axis, at, 1))}
            >
              Later
            </button>
          </>
        )}
        <button
          type="button"
          className="btn btn-quiet !px-2"
          onClick={() => {
            onChange(dropGroup(brief, axis, at));
            onDone();
          }}
        >
          Remove
        </button>
      </div>
      {found && isDated(found.field.kind) && (
        <div role="listbox" aria-label="Unit of time" className="mb-2 grid grid-cols-2">
          {schema.units
            .filter((u) => u !== "hour" || found.field.kind === "time")
            .map((u) => (
              <button
                key={u}
                type="button"
                role="option"
                aria-selected={g.by === u}
                className="pick"
                onClick={() => put({ by: u })}
              >
                by {u.replaceAll("_", " ")}
              </button>
            ))}
        </div>
      )}
      <label className="mb-1 block" htmlFor="group-order">
        In order of
      </label>
      <select
        id="group-order"
        className="input"
        value={g.order ? `${g.order.by} ${g.order.desc ? "d" : "a"}` : ""}
        onChange={(e) => {
          const { order: _, ...rest } = g;
          const [by, dir] = e.target.value.split(" ");
          onChange(
            setGroup(brief, axis, at, by ? { ...rest, order: { by, ...(dir === "d" ? { desc: true } : {}) } } : rest),
          );
        }}
      >
        <option value="">its own order, or the first summary</option>
        <option value="label a">label, upwards</option>
        <option value="label d">label, downwards</option>
        {summaries.flatMap((s) => [
          <option key={`${s.key} d`} value={`${s.key} d`}>
            {s.key.replaceAll("_", " ")}, largest first
          </option>,
          <option key={`${s.key} a`} value={`${s.key} a`}>
            {s.key.replaceAll("_", " ")}, smallest first
          </option>,
        ])}
      </select>
      <GroupMore {...{ schema, brief, onChange, axis, at, g, summaries }} />
    </div>
  );
}

const listable = ["date", "time", "choice", "yesno", "link"];

/** What a group shows: all of its values, or the largest and the rest; and how it is called. */
function GroupMore({
  schema,
  brief,
  onChange,
  axis,
  at,
  g,
  summaries,
}: Props & { axis: "groups" | "across"; at: number; g: Group; summaries: Summary[] }) {
  const found = g.field ? fieldAt(schema, brief.start as string, g.field) : undefined;
  const put = (next: Group) => onChange(setGroup(brief, axis, at, next));
  const { top, every, label, ...rest } = g;
  const shows = top ? "top" : every ? "every" : "all";
  const topNow = top ?? { n: 6, by: summaries[summaries.length - 1].key };
  return (
    <>
      <p className="mt-3 mb-1">Shows</p>
      <Seg
        label="Which groups are shown"
        value={shows}
        onChange={(v) => {
          const { order: _, ...without } = rest;
          if (v === "top") put({ ...without, ...(label ? { label } : {}), top: topNow });
          else put({ ...rest, ...(label ? { label } : {}), ...(v === "every" ? { every: true } : {}) });
        }}
        options={
          found && (listable.includes(found.field.kind) || found.path.startsWith("own."))
            ? [
                ["all", "What there is"],
                ["every", "Every one"],
                ["top", "The first few"],
              ]
            : [
                ["all", "What there is"],
                ["top", "The first few"],
              ]
        }
      />
      {top && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          the
          <input
            className="input !w-16"
            type="number"
            min={1}
            max={100}
            aria-label="How many groups"
            value={top.n}
            onChange={(e) => Number(e.target.value) > 0 && put({ ...g, top: { ...top, n: Number(e.target.value) } })}
          />
          <select
            className="input !w-auto"
            aria-label="Largest or smallest"
            value={top.from ?? "largest"}
            onChange={(e) => put({ ...g, top: { ...top, from: e.target.value } })}
          >
            <option value="largest">largest</option>
            <option value="smallest">smallest</option>
          </select>
          by
          <select
            className="input !w-auto"
            aria-label="Measured by"
            value={top.by}
            onChange={(e) => put({ ...g, top: { ...top, by: e.target.value } })}
          >
            {summaries.map((s) => (
              <option key={s.key} value={s.key}>
                {s.label || s.key.replaceAll("_", " ")}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={top.rest !== "drop"}
              onChange={(e) => put({ ...g, top: { ...top, rest: e.target.checked ? "other" : "drop" } })}
            />
            the rest as Other
          </label>
        </div>
      )}
      <label className="mt-3 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={brief.blank === false}
          onChange={(e) => onChange(tidy({ ...brief, blank: e.target.checked ? false : undefined }))}
        />
        leave out (blank), in all groups
      </label>
      <label className="mt-3 mb-1 block" htmlFor="group-label">
        Called
      </label>
      <input
        id="group-label"
        className="input"
        placeholder={found?.label ?? ""}
        value={label ?? ""}
        onChange={(e) => {
          const name = e.target.value;
          put({ ...rest, ...(top ? { top } : {}), ...(every ? { every } : {}), ...(name ? { label: name } : {}) });
        }}
      />
      {axis === "groups" && (brief.across?.length ?? 0) > 0 && (
        <button type="button" className="link mt-3 text-[13px]" onClick={() => onChange(swapAxes(brief))}>
          Swap rows and columns
        </button>
      )}
    </>
  );
}
