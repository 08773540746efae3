import { useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, type Mark, Refused, type SchemaInfo, type TypeInfo } from "../../api/client";
import { useAnswer, useBoards, useFolders, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { conditions } from "../../brief/edits";
import { Chart } from "../../chart/Chart";
import { KindPicture } from "../../chart/KindPicture";
import { kindName } from "../../chart/kinds";
import { FieldFinder } from "../../fields/FieldFinder";
import { fieldAt } from "../../fields/fields";
import { Menu, MenuItem, MenuLabel, MenuTick } from "../../ui/Menu";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { breakdowns, type Drawn, drawn, groupBy, measures } from "./drawing";
import { brokenDown, drawnOf, type Narrowing, narrowedBy, picked } from "./narrowing";
import { ReadyCharts } from "./ReadyCharts";

/**
 * The chart beside a list: of the records that the list shows, as one edits it. Its marks narrow the list, and are broken
 * down by another field in place.
 */
export function BesideChart({
  schema,
  type,
  list,
  narrowing,
  draw,
  above,
  onNarrow,
  onDraw,
  onPlace,
}: {
  schema: SchemaInfo;
  type: TypeInfo;
  /** The list with what is looked for in it, without what the chart narrows it to. */
  list: Brief;
  narrowing: Narrowing;
  draw: Drawn;
  above: boolean;
  onNarrow: (n: Narrowing) => void;
  onDraw: (d: Drawn) => void;
  onPlace: (place: "beside" | "above" | "closed") => void;
}) {
  const [ready, setReady] = useState(false);
  const step = narrowing.by.length;
  const by = narrowing.by.at(-1);
  const brief = drawn(drawnOf(list, narrowing), draw, by);
  const answer = useAnswer(brief, 60);
  const a = answer.data;
  const [pick] = useDo(
    async (marks: Mark[]) => {
      const b = await ask(api.POST("/api/behind/report", { body: { brief, marks, part: 0 } }));
      return { marks, conds: conditions(b as Brief).slice(conditions(brief).length) };
    },
    ({ marks, conds }) => onNarrow(picked(narrowing, conds, marks)),
  );
  const group = by ?? draw.group;
  const what = measures(type);
  const chosen = narrowing.from[step];
  const named = fieldAt(schema, type.key, group.field ?? "")?.label ?? group.field ?? "";
  return (
    <section
      aria-label="Chart of the list"
      className={`sheet flex min-w-0 flex-col p-3.5 ${above ? "mb-2" : "w-[330px] shrink-0 max-lg:w-full"}`}
    >
      <div className="flex items-start gap-2">
        <h2 className="title mr-auto min-w-0 text-[15px]">{a?.drawing.title ?? "…"}</h2>
        <Menu label="More of the chart" className="btn btn-quiet !h-6 !px-2" text="…">
          <MenuItem label="Ready charts…" onPick={() => setReady(true)} />
          <MenuLabel>Where it stands</MenuLabel>
          <MenuTick on={!above} onPick={() => onPlace("beside")}>
            Beside the list
          </MenuTick>
          <MenuTick on={above} onPick={() => onPlace("above")}>
            Above the list
          </MenuTick>
          <MenuItem label="Close it" onPick={() => onPlace("closed")} />
        </Menu>
      </div>
      <p className="mb-1 text-[12px] text-ink2">follows the list{step > 0 && ", of what was picked before"}</p>
      <Trouble error={answer.error} />
      <div className={answer.isPlaceholderData ? "stale" : ""} aria-busy={answer.isPlaceholderData}>
        {a && (
          <Chart
            drawing={a.drawing}
            share={false}
            height={above ? 190 : 330}
            lit={chosen && narrowing.marks}
            onMark={(marks) => pick(marks)}
          />
        )}
      </div>
      {chosen && (
        <div className="mt-2 border-line border-t pt-2 text-[13px]">
          <p className="mb-1.5 text-ink2">The list shows what you picked. Break it down by</p>
          <div className="flex flex-wrap gap-1.5">
            {breakdowns(
              schema,
              type,
              [draw.group, ...narrowing.by].map((g) => g.field ?? ""),
            ).map((b) => (
              <button
                key={b.path}
                type="button"
                className="btn !h-7 !px-2"
                onClick={() => {
                  const f = fieldAt(schema, type.key, b.path)?.field;
                  if (f) onNarrow(brokenDown(narrowing, groupBy(b.path, f)));
                }}
              >
                {b.label}
              </button>
            ))}
            <AnotherField
              schema={schema}
              type={type}
              onPick={(g) => onNarrow(brokenDown(narrowing, g))}
              label="Find a field to break it down by"
            >
              another…
            </AnotherField>
          </div>
        </div>
      )}
      <div className="mt-auto flex flex-wrap items-center gap-x-1 border-line border-t pt-2 text-[13px]">
        <Menu
          label={`${wordsOf(what, draw)}: what is drawn`}
          className="link !px-1"
          text={`${wordsOf(what, draw)} ▾`}
          align="start"
        >
          {what.map((m) => (
            <MenuTick
              key={m.summary.key}
              on={m.summary.fn === draw.summary.fn && m.summary.of === draw.summary.of}
              onPick={() => onDraw({ ...draw, summary: m.summary })}
            >
              {m.words}
            </MenuTick>
          ))}
        </Menu>
        <AnotherField
          schema={schema}
          type={type}
          label="Find a field to draw it by"
          className="link"
          onPick={(g) =>
            step > 0
              ? onNarrow({ ...narrowing, by: [...narrowing.by.slice(0, -1), g], from: narrowing.from.slice(0, step) })
              : onDraw({ ...draw, group: g })
          }
        >
          by {named.toLowerCase()} ▾
        </AnotherField>
        {!by && a && (
          <Menu
            label={`as ${kindName(draw.kind).toLowerCase()}: which chart`}
            className="link !px-1"
            text={`as ${kindName(draw.kind).toLowerCase()} ▾`}
            align="start"
          >
            {a.kinds
              .filter((k) => !k.lacks && k.kind !== "table")
              .map((k) => (
                <MenuTick key={k.kind} on={k.kind === draw.kind} onPick={() => onDraw({ ...draw, kind: k.kind })}>
                  <KindPicture kind={k.kind} />
                  <span className="mr-auto">{kindName(k.name)}</span>
                </MenuTick>
              ))}
          </Menu>
        )}
        <span className="ml-auto" />
        <KeepChart brief={drawn(narrowedBy(list, narrowing), draw, by)} title={a?.drawing.title ?? ""} />
      </div>
      {ready && (
        <ReadyCharts
          type={type}
          list={list}
          onClose={() => setReady(false)}
          onPick={(d) => {
            setReady(false);
            onDraw(d);
            if (step > 0) onNarrow({ from: [], by: [] });
          }}
        />
      )}
    </section>
  );
}

const wordsOf = (list: ReturnType<typeof measures>, d: Drawn) =>
  list.find((m) => m.summary.fn === d.summary.fn && m.summary.of === d.summary.of)?.words ??
  d.summary.label ??
  d.summary.key;

/** A button that opens the finder of fields. */
function AnotherField({
  schema,
  type,
  label,
  className = "btn !h-7 !px-2",
  onPick,
  children,
}: {
  schema: SchemaInfo;
  type: TypeInfo;
  label: string;
  className?: string;
  onPick: (g: ReturnType<typeof groupBy>) => void;
  children: React.ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={className}>{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="pop w-[340px] max-w-[calc(100vw-24px)] p-3"
          align="start"
          sideOffset={6}
          collisionPadding={12}
          aria-label={label}
        >
          <FieldFinder
            schema={schema}
            start={type.key}
            label={label}
            fits={(f) => f.field.kind !== "id"}
            onPick={(f) => {
              setOpen(false);
              onPick(groupBy(f.path, f.field));
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Makes the chart with the list's conditions a report, or a panel of a dashboard, in one step. */
function KeepChart({ brief, title }: { brief: Brief; title: string }) {
  const me = useMe().data;
  const client = useQueryClient();
  const go = useNavigate();
  const boards = (useBoards().data ?? []).filter((b) => b.mayChange);
  const folders = useFolders().data ?? [];
  const [place] = useDo(
    async (board: (typeof boards)[0]) => {
      const folder = folders.find((f) => f.id === board.folder && f.mayChange) ?? folders.find((f) => f.mayChange);
      const named = await keepTitled(brief, title, folder?.id ?? 0);
      await ask(
        api.POST("/api/boards/{id}/panels", { params: { path: { id: board.id } }, body: { report: named.id } }),
      );
      return board;
    },
    (board) => {
      anew(client, "reports", "find", "boards", "board");
      toast(`Placed on “${board.title}”`, {
        action: { label: "Open it", onClick: () => go(`/dashboards/${board.id}`) },
      });
    },
  );
  if (!me?.mayCompose) return null;
  return (
    <>
      <Menu label="Place on a dashboard" className="btn !h-7 !px-2" text="Place on…">
        {boards.map((b) => (
          <MenuItem key={b.id} label={b.title} onPick={() => place(b)} />
        ))}
        {boards.length === 0 && <MenuLabel>There is no dashboard that you may change.</MenuLabel>}
      </Menu>
      <Link
        className="btn !h-7 !px-2"
        to={`/reports/new/${brief.start}?brief=${encodeURIComponent(JSON.stringify(brief))}`}
      >
        As a report
      </Link>
    </>
  );
}

/** Keeps a report by its automatic title; where that is taken, with a number behind it. */
async function keepTitled(brief: Brief, title: string, folder: number) {
  for (let n = 1; ; n++) {
    try {
      return await ask(
        api.POST("/api/reports", {
          body: { title: n > 1 ? `${title} (${n})` : title, description: "", folder, brief },
        }),
      );
    } catch (e) {
      if (n >= 9 || !(e instanceof Refused) || e.status !== 409) throw e;
    }
  }
}
