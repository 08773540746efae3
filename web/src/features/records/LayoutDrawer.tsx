import { DndContext } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { useDraft } from "../../api/useDraft";
import { moved } from "../../brief/edits";
import { Drawer } from "../../ui/Drawer";
import { Trouble } from "../../ui/Say";
import { UndoRedo } from "../../ui/UndoRedo";
import { useDo } from "../../ui/useDo";
import { useSorting } from "../../ui/useSorting";
import { same, useSteps } from "../../ui/useSteps";

export type Layout = Schemas["PageLayout"];

type Draft = Schemas["PageDraft"];
type Kept = { revision: number; changed: number };

type Props = {
  type: TypeInfo;
  /** The page as it is now. */
  now: Layout;
  /** Shows the page like this. */
  onTry: (l: Layout | undefined) => void;
  onClose: () => void;
};

/**
 * Lays out the page of a record type beside the record that one looks at, which shows each change at once: what matters
 * first, fields in sections, which records that link to it are listed. Nobody else sees it until it is saved; what is not
 * saved is here again when one comes back.
 */
export function LayoutDrawer(props: Props) {
  const { type, now, onTry, onClose } = props;
  const teams = useSubjects().filter((s) => s.kind === "team");
  const [team, setTeam] = useState(0);
  const path = { params: { path: { type: type.key }, query: { team } } };
  const kept = useQuery({
    queryKey: ["page layout", type.key, team],
    staleTime: 0,
    gcTime: 0,
    queryFn: async () => {
      const [is, draft] = await Promise.all([
        ask(api.GET("/api/page-layouts/{type}", path)),
        ask(api.GET("/api/page-layouts/{type}/draft", path)),
      ]);
      return { ...is, draft };
    },
  });
  const first = useRef(now);
  const leave = () => {
    onTry(undefined);
    onClose();
  };
  const choice = (
    <label className="mr-auto flex items-center gap-2">
      For
      <select className="input !w-44" value={team} onChange={(e) => setTeam(Number(e.target.value))}>
        <option value={0}>everyone</option>
        {teams.map((t) => (
          <option key={t.id} value={t.id}>
            {t.name}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <Drawer open beside onClose={leave} title={`The page of a ${type.one}`}>
      <Trouble error={kept.error} />
      {kept.data ? (
        <Laying
          key={team}
          type={type}
          team={team}
          begun={kept.data.layout ?? first.current}
          own={!!kept.data.layout}
          version={kept.data.version}
          draft={kept.data.draft}
          choice={choice}
          onTry={onTry}
          onClose={leave}
        />
      ) : (
        <div className="mb-3 flex">{choice}</div>
      )}
    </Drawer>
  );
}

function Laying({
  type,
  team,
  begun,
  own,
  version,
  draft,
  choice,
  onTry,
  onClose,
}: Omit<Props, "now"> & {
  team: number;
  /** The layout as it is kept. */
  begun: Layout;
  /** Whether those for whom it is laid out have one of their own. */
  own: boolean;
  version: number;
  /** What was left unsaved; its revision is 0 where there is none. */
  draft: Draft;
  choice: React.ReactNode;
}) {
  const client = useQueryClient();
  // What was left unsaved counts as long as nobody has saved the page since.
  const again = draft.revision > 0 && draft.version === version && !same(draft.layout, begun);
  const [left, setLeft] = useState(again);
  const edits = useSteps<Layout>(again ? draft.layout : begun);
  const l = edits.now;
  const set = (next: Layout) => edits.dispatch({ do: "set", now: next });
  useEffect(() => onTry(l), [l, onTry]);
  const path = { params: { path: { type: type.key }, query: { team } } };
  const unsaved = useDraft<Kept>({
    on: true,
    value: l,
    first: draft.revision > 0 ? { revision: draft.revision, changed: draft.changed ?? 0 } : undefined,
    put: async (value, was, keepalive) => {
      const d = await ask(
        api.PUT("/api/page-layouts/{type}/draft", {
          ...path,
          keepalive,
          body: { layout: value as Layout, version, revision: was?.revision ?? 0 },
        }),
      );
      return { revision: d.revision, changed: d.changed ?? 0 };
    },
    remove: () => ask(api.DELETE("/api/page-layouts/{type}/draft", path)),
  });
  const [save] = useDo(
    async (layout: Layout | undefined) => {
      await ask(api.PUT("/api/page-layouts/{type}", { ...path, body: { ...(layout ? { layout } : {}), version } }));
      await unsaved.drop();
    },
    () => {
      anew(client, "record", "page layout", "setting changes");
      toast(`The page of every ${type.one} is laid out. It can be taken back under Settings.`);
      onClose();
    },
  );
  const fields = type.fields.filter((f) => f.kind !== "id" && f.key !== type.name);
  const label = (key: string) => type.fields.find((f) => f.key === key)?.label ?? key;
  const sections = l.sections ?? [];
  const inSections = sections.flatMap((s) => s.fields);
  const lists = type.backs.filter((b) => b.type !== "changes");
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-2" data-steps>
        {choice}
        <UndoRedo edits={edits} />
      </div>
      <Trouble error={unsaved.trouble} />
      {left && (
        <p className="mb-2 rounded bg-amber-soft px-3 py-1.5 text-[13px]">
          This was left unsaved.{" "}
          <button
            type="button"
            className="link font-semibold"
            onClick={() => {
              setLeft(false);
              set(begun);
            }}
          >
            Begin anew
          </button>
        </p>
      )}
      <Keys
        title="What matters first"
        keys={l.first ?? []}
        label={label}
        most={6}
        others={fields.map((f) => f.key)}
        onChange={(first) => set({ ...l, first })}
      />
      {sections.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sections have no other identity than their place
        <div key={i} className="mt-3 rounded border border-line p-2">
          <div className="mb-1 flex gap-2">
            <input
              className="input"
              aria-label="Heading of the section"
              maxLength={80}
              value={s.heading}
              onChange={(e) =>
                set({ ...l, sections: sections.map((x, k) => (k === i ? { ...x, heading: e.target.value } : x)) })
              }
            />
            {i > 0 && (
              <button
                type="button"
                className="btn btn-quiet"
                aria-label={`${s.heading} earlier`}
                onClick={() => set({ ...l, sections: moved(sections, i, i - 1) })}
              >
                ↑
              </button>
            )}
            <button
              type="button"
              className="btn btn-quiet"
              onClick={() => set({ ...l, sections: sections.filter((_, k) => k !== i) })}
            >
              Remove
            </button>
          </div>
          <Keys
            title={`Fields of ${s.heading}`}
            keys={s.fields}
            label={label}
            most={40}
            others={fields.map((f) => f.key).filter((k) => !inSections.includes(k))}
            onChange={(list) => set({ ...l, sections: sections.map((x, k) => (k === i ? { ...x, fields: list } : x)) })}
          />
        </div>
      ))}
      <button
        type="button"
        className="link mt-2"
        disabled={sections.length >= 12}
        onClick={() => set({ ...l, sections: [...sections, { heading: "Section", fields: [] }] })}
      >
        Another section
      </button>
      <div className="mt-3">
        <Keys
          title="Linked records, all where none is named"
          keys={l.lists ?? []}
          label={(key) => lists.find((b) => b.key === key)?.label ?? key}
          most={lists.length}
          others={lists.map((b) => b.key)}
          onChange={(next) => set({ ...l, lists: next })}
        />
      </div>
      <div className="mt-5 flex flex-wrap justify-end gap-2">
        {own && (
          <button type="button" className="btn btn-quiet mr-auto" onClick={() => save(undefined)}>
            As it comes
          </button>
        )}
        <button type="button" className="btn btn-quiet" onClick={onClose}>
          Not now
        </button>
        <button
          type="button"
          className="btn btn-main"
          disabled={sections.some((s) => !s.heading.trim())}
          onClick={() => save(l)}
        >
          Save for every {type.one}
        </button>
      </div>
    </>
  );
}

/** Some of several things in an order: dragged, or moved by keys; added from those that are left, taken out. */
function Keys({
  title,
  keys,
  label,
  others,
  most,
  onChange,
}: {
  title: string;
  keys: string[];
  label: (key: string) => string;
  /** All that there are. */
  others: string[];
  most: number;
  onChange: (keys: string[]) => void;
}) {
  const sorting = useSorting(keys.map((k) => ({ id: k, name: label(k) })));
  const left = others.filter((k) => !keys.includes(k));
  return (
    <section aria-label={title}>
      <h3 className="font-semibold text-[13px]">{title}</h3>
      <DndContext
        {...sorting}
        onDragEnd={({ active, over }) =>
          over && onChange(moved(keys, keys.indexOf(String(active.id)), keys.indexOf(String(over.id))))
        }
      >
        <SortableContext items={keys} strategy={verticalListSortingStrategy}>
          <ul>
            {keys.map((k, i) => (
              <Key
                key={k}
                id={k}
                label={label(k)}
                first={i === 0}
                last={i === keys.length - 1}
                onMove={(by) => onChange(moved(keys, i, i + by))}
                onDrop={() => onChange(keys.filter((x) => x !== k))}
              />
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      {left.length > 0 && keys.length < most && (
        <select
          className="input mt-1 !w-56"
          aria-label={`Add to: ${title}`}
          value=""
          onChange={(e) => onChange([...keys, e.target.value])}
        >
          <option value="">Add …</option>
          {left.map((k) => (
            <option key={k} value={k}>
              {label(k)}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}

function Key({
  id,
  label,
  first,
  last,
  onMove,
  onDrop,
}: {
  id: string;
  label: string;
  first: boolean;
  last: boolean;
  onMove: (by: number) => void;
  onDrop: () => void;
}) {
  const s = useSortable({ id });
  const small = "btn btn-quiet !h-7 !px-2";
  return (
    <li
      ref={s.setNodeRef}
      className="flex items-center gap-1 border-line border-b py-0.5"
      style={{ transform: CSS.Transform.toString(s.transform), transition: s.transition }}
    >
      <button
        type="button"
        className="min-h-6 min-w-6 cursor-grab touch-none text-ink2"
        aria-label={`Drag ${label}`}
        {...s.attributes}
        {...s.listeners}
      >
        ⠿
      </button>
      <span className="mr-auto">{label}</span>
      <button
        type="button"
        className={small}
        aria-label={`${label} earlier`}
        disabled={first}
        onClick={() => onMove(-1)}
      >
        ↑
      </button>
      <button type="button" className={small} aria-label={`${label} later`} disabled={last} onClick={() => onMove(1)}>
        ↓
      </button>
      <button type="button" className={small} aria-label={`Remove ${label}`} onClick={onDrop}>
        ×
      </button>
    </li>
  );
}
