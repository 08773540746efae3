import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Brief, type Panel, type SchemaInfo, type Tree } from "../../api/client";
import { useAnswer, useBoards, useHouseStyle, useReport, useSchema, useStyles } from "../../api/hooks";
import { anew } from "../../api/keys";
import type { Filters } from "../../api/panels";
import { conditions } from "../../brief/edits";
import { kindName } from "../../chart/kinds";
import { endsOfDays } from "../../fields/MomentPicker";
import { PeriodPicker } from "../../fields/PeriodPicker";
import { LookChoices } from "../../looks/LookChoices";
import { PaletteEditor } from "../../looks/PaletteEditor";
import { later } from "../../ui/later";
import { Menu, MenuItem, SubMenu } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { Seg } from "../../ui/Seg";
import { useDo } from "../../ui/useDo";
import { type Unit, units } from "../moved/units";

/** How a panel differs from its report: heading, period, kind and where it leads; or all of a panel's own words. */
export function PanelDialog({
  panel,
  onChange,
  onClose,
}: {
  panel: Panel;
  onChange: (p: Panel) => void;
  onClose: () => void;
}) {
  const schema = useSchema();
  const report = useReport(panel.report || undefined).data;
  const answer = useAnswer(report?.brief).data;
  const kinds = answer?.kinds ?? [];
  const styles = useStyles();
  const grouped = (report?.brief.groups?.length ?? 0) > 0;
  const [o, setO] = useState(panel.options ?? {});
  const dated = !!(report?.brief.period ?? report?.brief.parts?.some((p) => p.period));
  const text = (key: "heading" | "below" | "source" | "link", label: string, placeholder?: string) => (
    <label className="mt-3 block first:mt-0">
      {label}
      <input
        className="input mt-1"
        maxLength={key === "link" ? 500 : 200}
        placeholder={placeholder}
        value={o[key] ?? ""}
        onChange={(e) => setO({ ...o, [key]: e.target.value || undefined })}
      />
    </label>
  );
  return (
    <Modal
      title={panel.report ? "How the panel differs from its report" : "What the panel says"}
      width={460}
      onClose={onClose}
    >
      {panel.report ? (
        <>
          {text("heading", "Heading, in place of the report’s title")}
          {text("below", "A line below it")}
          <label className="mt-3 block">
            Drawn as
            <select
              className="input mt-1"
              aria-label="Drawn as"
              value={o.moved ? "moved" : o.stood ? "stood" : o.list ? "list" : (o.kind ?? "")}
              onChange={(e) => {
                const as = e.target.value;
                setO({
                  ...o,
                  kind: ["list", "moved", "stood"].includes(as) ? undefined : as || undefined,
                  list: as === "list" || undefined,
                  moved: as === "moved" ? "last_week" : undefined,
                  stood: as === "stood" ? "week" : undefined,
                });
              }}
            >
              <option value="">as the report is</option>
              {!report?.brief.parts && <option value="moved">what moved in it</option>}
              {!report?.brief.parts && <option value="stood">how it stood</option>}
              {grouped && !report?.brief.parts && <option value="list">a list of its records</option>}
              {kinds
                .filter((k) => !k.lacks)
                .map((k) => (
                  <option key={k.kind} value={k.kind}>
                    {kindName(k.name)}
                  </option>
                ))}
            </select>
          </label>
          {o.stood && (
            <div className="mt-3 flex flex-wrap items-center gap-3">
              <Seg
                label="At the ends of"
                value={o.stood as Unit}
                onChange={(stood) => setO({ ...o, stood })}
                options={units}
              />
              {grouped && (
                <Seg
                  label="Drawn as areas or lines"
                  value={o.kind === "line" ? "line" : "area"}
                  onChange={(k) => setO({ ...o, kind: k === "line" ? k : undefined })}
                  options={[
                    ["area", "Areas"],
                    ["line", "Lines"],
                  ]}
                />
              )}
            </div>
          )}
          {o.moved && (
            <label className="mt-3 block">
              Since
              <select
                className="input mt-1"
                value={o.moved}
                onChange={(e) => setO({ ...o, moved: e.target.value || undefined })}
              >
                {endsOfDays.map(([word, label]) => (
                  <option key={word} value={word}>
                    {label}
                  </option>
                ))}
                {!endsOfDays.some(([word]) => word === o.moved) && <option value={o.moved}>{o.moved}</option>}
              </select>
            </label>
          )}
          <div className="mt-3 grid grid-cols-3 gap-2" hidden={!!o.moved || !!o.stood}>
            <label>
              Style
              <select
                className="input mt-1"
                value={o.style ?? ""}
                onChange={(e) => setO({ ...o, style: e.target.value || undefined })}
              >
                <option value="">as the report’s</option>
                {styles.map((k) => (
                  <option key={k.key} value={k.key}>
                    {k.name}
                  </option>
                ))}
              </select>
            </label>
            <label>
              {grouped && !o.list ? "First groups" : "First records"}
              <input
                className="input mt-1"
                type="number"
                min={1}
                max={400}
                placeholder="all of them"
                value={o.items ?? ""}
                onChange={(e) => setO({ ...o, items: Math.min(400, Math.max(0, Number(e.target.value))) || undefined })}
              />
            </label>
            {grouped && !o.list && (
              <label>
                Order
                <select
                  className="input mt-1"
                  value={o.order ?? ""}
                  onChange={(e) => setO({ ...o, order: e.target.value || undefined })}
                >
                  <option value="">as the report’s</option>
                  <option value="largest">largest first</option>
                  <option value="smallest">smallest first</option>
                  <option value="label">by name</option>
                </select>
              </label>
            )}
          </div>
          {grouped && !o.list && !o.moved && !o.stood && (
            <PanelLooks
              looks={o.looks}
              summaries={answer?.summaries ?? []}
              onChange={(looks) => setO({ ...o, looks })}
            />
          )}
          {dated && schema && (
            <fieldset className="mt-3">
              <legend>
                Period{" "}
                {o.period === undefined ? (
                  <span className="text-ink2">follows the report and the dashboard</span>
                ) : (
                  <button type="button" className="link" onClick={() => setO({ ...o, period: undefined })}>
                    follow the report and the dashboard again
                  </button>
                )}
              </legend>
              <details className="mt-1" open={o.period !== undefined}>
                <summary className="cursor-pointer text-ink2">One of its own</summary>
                <PeriodPicker
                  schema={schema}
                  value={o.period as Filters["period"]}
                  onChange={(period) => setO({ ...o, period })}
                />
              </details>
            </fieldset>
          )}
          {schema && report?.brief.start && (
            <PanelWhere
              schema={schema}
              start={report.brief.start}
              where={o.where}
              onChange={(where) => setO({ ...o, where })}
            />
          )}
          <fieldset className="mt-3 flex flex-col gap-1">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={!!o.top}
                onChange={(e) => setO({ ...o, top: e.target.checked || undefined })}
              />
              in the row of figures at the top, which stays as one scrolls
            </label>
            {grouped && !o.list && !o.moved && !o.stood && !report?.brief.parts && (
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={!!o.switch}
                  onChange={(e) => setO({ ...o, switch: e.target.checked || undefined })}
                />
                readers may switch what it sums up and groups by
              </label>
            )}
          </fieldset>
          {text("source", "A note on the source, below it")}
          {text("link", "Where its heading leads, in place of the report", "/dashboards/3 or https://…")}
        </>
      ) : (
        <>
          <label className="block">
            Words
            <textarea
              className="input mt-1"
              rows={4}
              maxLength={2000}
              value={o.words ?? ""}
              onChange={(e) => setO({ ...o, words: e.target.value })}
            />
          </label>
          <label className="mt-2 flex items-center gap-2">
            <input
              type="checkbox"
              checked={!!o.section}
              onChange={(e) => setO({ ...o, section: e.target.checked || undefined })}
            />
            as a heading over what follows
          </label>
        </>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
        <button
          type="button"
          className="btn btn-main"
          disabled={!panel.report && !o.words?.trim()}
          onClick={() => {
            onChange({ ...panel, options: o });
            onClose();
          }}
        >
          Done
        </button>
      </div>
    </Modal>
  );
}

type Looks = NonNullable<NonNullable<Panel["options"]>["looks"]>;

/** What a panel's chart has of its own: which summary it draws, and whatever a style says. */
function PanelLooks({
  looks = {},
  summaries,
  onChange,
}: {
  looks?: Looks;
  summaries: { key: string; label: string }[];
  onChange: (looks: Looks | undefined) => void;
}) {
  const house = useHouseStyle();
  const change = (more: Partial<Looks>) => {
    const next = Object.fromEntries(Object.entries({ ...looks, ...more }).filter(([, v]) => v !== undefined)) as Looks;
    onChange(Object.keys(next).length ? next : undefined);
  };
  return (
    <details className="mt-3" open={Object.keys(looks).length > 0}>
      <summary className="cursor-pointer">
        Looks of its own <span className="text-ink2">where they differ from the report’s and its style’s</span>
      </summary>
      <div className="mt-2 grid grid-cols-3 gap-2">
        {summaries.length > 1 && (
          <label className="text-[13px]">
            Draws
            <select
              className="input"
              value={looks.values?.[0] ?? ""}
              onChange={(e) => change({ values: e.target.value ? [e.target.value] : undefined })}
            >
              <option value="">what the report draws</option>
              {summaries.map((s) => (
                <option key={s.key} value={s.key}>
                  {s.label}
                </option>
              ))}
            </select>
          </label>
        )}
        <LookChoices value={looks} below="as the report’s" onChange={change} />
      </div>
      {looks.palette ? (
        <div className="mt-2">
          <PaletteEditor colours={looks.palette} onChange={(palette) => change({ palette })} />
          <button type="button" className="link" onClick={() => change({ palette: undefined })}>
            colours as the report’s again
          </button>
        </div>
      ) : (
        <button type="button" className="link mt-2" onClick={() => change({ palette: [...(house?.palette ?? [])] })}>
          colours of its own
        </button>
      )}
    </details>
  );
}

/** What else can be done with a panel: twice, elsewhere, away. */
export function PanelMore({
  name,
  panel,
  full,
  onDouble,
  onDrop,
}: {
  name: string;
  panel: Panel;
  full: boolean;
  onDouble: () => void;
  onDrop: () => void;
}) {
  const client = useQueryClient();
  const boards = (useBoards().data ?? []).filter((b) => b.mayChange);
  const [send] = useDo(
    ({ id }: { id: number; move: boolean }) =>
      ask(
        api.POST("/api/boards/{id}/panels", {
          params: { path: { id } },
          body: { report: panel.report || undefined, w: panel.w, h: panel.h, options: panel.options },
        }),
      ),
    (b, { move }) => {
      client.setQueryData(["board", b.id], b);
      anew(client, "boards");
      if (move) onDrop();
      toast(move ? `Moved to “${b.title}”. Save this dashboard to let it go here.` : `Copied to “${b.title}”`);
    },
  );
  const elsewhere = (label: string, move: boolean) => (
    <SubMenu label={label}>
      {boards.map((b) => (
        <MenuItem key={b.id} label={b.title} onPick={() => send({ id: b.id, move })} />
      ))}
    </SubMenu>
  );
  return (
    <Menu label={`More to do with “${name}”`} className="btn !h-7 !px-2 text-xs" text="…" width={208}>
      {!full && <MenuItem label="Duplicate" onPick={onDouble} />}
      {elsewhere("Copy to…", false)}
      {elsewhere("Move to…", true)}
      <MenuItem label="Remove" onPick={onDrop} />
    </Menu>
  );
}

const TreeEditor = later(() => import("../../brief/TreeEditor").then((m) => m.TreeEditor));

/** Conditions of the panel's own, besides its report's: one report serves several panels. */
function PanelWhere({
  schema,
  start,
  where,
  onChange,
}: {
  schema: SchemaInfo;
  start: string;
  where?: Brief;
  onChange: (where: Brief | undefined) => void;
}) {
  const list = where ? conditions(where) : [];
  const [adding, setAdding] = useState(false);
  const put = (next: Tree[]) => onChange(next.length ? { version: 1, start, filter: { all: next } } : undefined);
  return (
    <fieldset className="mt-3">
      <legend>
        Conditions of its own{" "}
        <span className="text-ink2">{list.length ? "besides the report’s" : "none besides the report’s"}</span>
      </legend>
      {list.map((t, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no other identity than their place
        <div key={i} className="mt-1 rounded border border-line p-2">
          <TreeEditor
            schema={schema}
            start={start}
            value={t}
            onChange={(next) => put(list.map((x, k) => (k === i ? plain(next) : x)))}
            onDrop={() => put(list.filter((_, k) => k !== i))}
          />
        </div>
      ))}
      {adding ? (
        <div className="mt-1 rounded border border-line p-2">
          <TreeEditor
            schema={schema}
            start={start}
            onChange={(next) => {
              setAdding(false);
              put([...list, plain(next)]);
            }}
          />
        </div>
      ) : (
        <button type="button" className="link mt-1" onClick={() => setAdding(true)}>
          {list.length ? "Another condition" : "Only where…"}
        </button>
      )}
    </fieldset>
  );
}

/** A condition that nobody is asked for, and that is not hidden: a panel has no others. */
const plain = ({ ask: _, fixed: __, ...t }: Tree): Tree => t;
