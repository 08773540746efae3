import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { may, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { FormEnd } from "../../ui/FormEnd";
import { TextField } from "../../ui/form";
import { Menu, MenuItem, MenuLabel, MenuTick } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { useDo } from "../../ui/useDo";
import { searched } from "../../ui/words";
import { PanelCard, type Picked } from "../boards/PanelCard";

type Panel = Schemas["RecordPanel"];
type Look = Schemas["Look"];

/** How tall a panel is where nobody has said, and what an administrator can choose, in px. */
const usual = 320;
const heights: [string, number][] = [
  ["Low", 240],
  ["As usual", 0],
  ["Tall", 460],
];

/** What is asked anew when the pages of a type are laid out. */
const laidOut = ["record", "panel", "report-pages", "uses", "find", "placeables"] as const;

/**
 * The reports on the page of a record, each in the record's light. Administrators lay them out here, for the pages of all
 * records of the type: what they show of a record, their heading, size and order.
 */
export function PagePanels({
  type,
  id,
  panels,
  onPick,
}: {
  type: TypeInfo;
  id: string;
  panels: Panel[];
  onPick: (p: Picked) => void;
}) {
  const admin = may(useMe().data, "lay_out");
  const [placing, setPlacing] = useState(false);
  const [heading, setHeading] = useState<Panel>();
  const client = useQueryClient();
  const after = () => anew(client, ...laidOut);
  const at = (p: Panel) => ({ params: { path: { type: type.key, report: p.report } } });
  const [look] = useDo(
    ({ panel: p, to }: { panel: Panel; to: Partial<Look> }) => {
      const { link, light, heading, tall } = p;
      return ask(api.PUT("/api/pages/{type}/{report}/look", { ...at(p), body: { link, light, heading, tall, ...to } }));
    },
    () => {
      setHeading(undefined);
      after();
    },
  );
  const [order] = useDo(
    (reports: number[]) =>
      ask(api.PUT("/api/page-order/{type}", { params: { path: { type: type.key } }, body: { reports } })),
    after,
  );
  const [off] = useDo(
    async (p: Panel) => {
      await ask(api.DELETE("/api/pages/{type}/{report}", at(p)));
      return p;
    },
    (p) => {
      after();
      const { link, light, heading, tall } = p;
      toast(`“${p.title}” is on no ${type.one}’s page any more`, {
        action: {
          label: "Undo",
          onClick: async () => {
            await ask(api.PUT("/api/pages/{type}/{report}", at(p)));
            await ask(api.PUT("/api/pages/{type}/{report}/look", { ...at(p), body: { link, light, heading, tall } }));
            await ask(
              api.PUT("/api/page-order/{type}", {
                params: { path: { type: type.key } },
                body: { reports: panels.map((x) => x.report) },
              }),
            );
            after();
          },
        },
      });
    },
  );
  const move = (i: number, by: number) => {
    const list = panels.map((p) => p.report);
    const [one] = list.splice(i, 1);
    list.splice(i + by, 0, one);
    order(list);
  };
  const nested = type.fields.some((f) => f.to === type.key && f.written);
  const lights: [string, string][] = [
    ["", `This ${type.one}`],
    ...(nested
      ? ([
          ["below", `This ${type.one} and all below it`],
          ["parent", `The ${type.one} above this`],
        ] as [string, string][])
      : []),
    ["all", `All ${type.label.toLowerCase()}`],
  ];
  return (
    <div className="min-w-0">
      {panels.map((p, i) => (
        <div key={p.report} className="relative mb-3">
          {admin && (
            <div className="mb-0.5 flex justify-end">
              <Menu
                label={`${p.words}: lay out ${p.heading || p.title}`}
                className="link text-[12px]"
                text={`${p.words} ▾`}
                width={270}
              >
                <MenuLabel>What it shows, on every {type.one}’s page</MenuLabel>
                {lights.map(([light, words]) => (
                  <MenuTick key={light} on={(p.light ?? "") === light} onPick={() => look({ panel: p, to: { light } })}>
                    {words}
                  </MenuTick>
                ))}
                {p.ways.length > 1 && <MenuLabel>By which way</MenuLabel>}
                {p.ways.length > 1 &&
                  p.ways.map((w) => (
                    <MenuTick
                      key={w.path}
                      on={p.link === w.path}
                      onPick={() => look({ panel: p, to: { link: w.path } })}
                    >
                      {w.words}
                    </MenuTick>
                  ))}
                <MenuLabel>Size</MenuLabel>
                {heights.map(([words, tall]) => (
                  <MenuTick key={words} on={(p.tall ?? 0) === tall} onPick={() => look({ panel: p, to: { tall } })}>
                    {words}
                  </MenuTick>
                ))}
                <MenuLabel>Order and heading</MenuLabel>
                {i > 0 && <MenuItem label="Earlier" onPick={() => move(i, -1)} />}
                {i < panels.length - 1 && <MenuItem label="Later" onPick={() => move(i, 1)} />}
                <MenuItem label="Another heading…" onPick={() => setHeading(p)} />
                <MenuItem label="Take it off these pages" onPick={() => off(p)} />
              </Menu>
            </div>
          )}
          <div style={{ height: p.tall || usual }}>
            <PanelCard
              report={p.report}
              options={p.heading ? { heading: p.heading } : undefined}
              record={{ type: type.key, id }}
              onPick={onPick}
            />
          </div>
        </div>
      ))}
      {admin && (
        <button type="button" className="btn w-full" onClick={() => setPlacing(true)}>
          Place a chart here…
        </button>
      )}
      {placing && <PlaceHere type={type} onClose={() => setPlacing(false)} onPlaced={after} />}
      {heading && (
        <HeadingDialog
          type={type}
          panel={heading}
          onSet={(text) => look({ panel: heading, to: { heading: text } })}
          onClose={() => setHeading(undefined)}
        />
      )}
    </div>
  );
}

/** What stands over a report on the pages of a type, in place of its title. */
function HeadingDialog({
  type,
  panel,
  onSet,
  onClose,
}: {
  type: TypeInfo;
  panel: Panel;
  onSet: (heading: string) => void;
  onClose: () => void;
}) {
  const form = useForm({ defaultValues: { heading: panel.heading ?? "" } });
  return (
    <Modal title="Heading" width={420} onClose={onClose}>
      <form onSubmit={form.handleSubmit(({ heading }) => onSet(heading))}>
        <TextField
          form={form}
          name="heading"
          label={`Over the chart, on every ${type.one}’s page`}
          maxLength={200}
          placeholder={panel.title}
        />
        <FormEnd form={form} action="Set heading" />
      </form>
    </Modal>
  );
}

/** Finds a report and places it on the pages of a type; of those that cannot be, it says why. */
function PlaceHere({ type, onClose, onPlaced }: { type: TypeInfo; onClose: () => void; onPlaced: () => void }) {
  const [search, setSearch] = useState("");
  const path = { type: type.key };
  const list = useQuery({
    queryKey: ["placeables", type.key],
    queryFn: () => ask(api.GET("/api/pages/{type}", { params: { path } })),
  });
  const [place] = useDo(
    async (p: Schemas["PlaceableBody"]) => {
      await ask(api.PUT("/api/pages/{type}/{report}", { params: { path: { ...path, report: p.report } } }));
      return p;
    },
    (p) => {
      onPlaced();
      onClose();
      toast(`“${p.title}” is on the page of every ${type.one}: ${p.words}`);
    },
  );
  const has = searched(search);
  const found = list.data?.filter((p) => has(p.title, p.words, p.owner)) ?? [];
  return (
    <Modal title={`On the page of every ${type.one}`} width={560} onClose={onClose}>
      <input
        className="input mb-2"
        type="search"
        aria-label="Find a report"
        placeholder="Words in a report"
        // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
        autoFocus
        value={search}
        onChange={(e) => setSearch(e.target.value)}
      />
      <ul className="max-h-[50vh] overflow-auto" aria-label="Reports">
        {found.map((p) => (
          <li key={p.report}>
            {p.why ? (
              <p className="px-2 py-1.5 text-ink3">
                <span className="block">{p.title}</span>
                <span className="text-[13px]">{p.why}</span>
              </p>
            ) : (
              <button type="button" className="pick" onClick={() => place(p)}>
                <span className="min-w-0">
                  <span className="block font-semibold">{p.title}</span>
                  <span className="text-[13px] text-ink2">{p.words}</span>
                </span>
                <span className="ml-auto text-ink3 text-xs">{p.owner}</span>
              </button>
            )}
          </li>
        ))}
      </ul>
      {list.data && found.length === 0 && <p className="py-3 text-ink2">No report has these words.</p>}
    </Modal>
  );
}
