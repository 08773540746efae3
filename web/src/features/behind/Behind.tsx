import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { api, ask, type Brief, type Mark, type Report, type Schemas } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { ColumnsEditor } from "../../brief/ColumnsEditor";
import { conditions, setCondition } from "../../brief/edits";
import { partOf } from "../../brief/parts";
import { typeOf } from "../../fields/fields";
import { useSeen } from "../../fields/useSeen";
import { Table } from "../../table/Table";
import { Drawer } from "../../ui/Drawer";
import { later } from "../../ui/later";
import { Seg } from "../../ui/Seg";
import { takeOut } from "../../ui/takeOut";
import { ChosenBar } from "../work/ChosenBar";
import { useWorked } from "../work/useWorked";

const TreeEditor = later(() => import("../../brief/TreeEditor").then((m) => m.TreeEditor));

type Column = Schemas["Column"];

export type Marks = { marks: Mark[]; words: string };

type Props = {
  brief: Brief;
  sentence: string;
  report?: Report;
  /** The columns that the report gives the records behind a number. */
  shown?: Column[];
  /** Whether this reader may not choose others. */
  fixed?: boolean;
  picked: Marks;
  height: number | string;
  /** Narrows what stands beside it to the same. */
  onNarrow?: () => void;
};

/**
 * The records behind marks: in the columns that the report gives them or that one chooses, sorted as one likes, narrowed
 * further, taken out as a file or kept as a report.
 */
export function BehindList(props: Props) {
  const { brief, report, shown, fixed, picked, height, onNarrow } = props;
  const schema = useSchema();
  const me = useMe().data;
  const [look, setLook] = useState<Pick<Brief, "columns" | "order">>();
  const [more, setMore] = useState<Schemas["Tree"]>();
  const [part, setPart] = useState("0");
  const parts = brief.parts ?? [];
  const asked = useMemo(() => {
    if (brief.parts) return brief;
    const next = { ...brief, ...(shown?.length ? { columns: shown } : {}), ...look };
    if (!next.columns?.length) delete next.columns;
    if (!next.order?.length) delete next.order;
    return next;
  }, [brief, shown, look]);
  // The same records as conditions, by which they can be narrowed and kept; not all can be said so.
  const own = useQuery({
    queryKey: ["behind report", asked, picked.marks, part],
    queryFn: () =>
      ask(api.POST("/api/behind/report", { body: { brief: asked, marks: picked.marks, part: Number(part) } })),
    retry: false,
  });
  // Records of an earlier day are read, not worked in: what is written is written now.
  const type = schema && parts.length === 0 && !brief.asOf ? typeOf(schema, brief.start) : undefined;
  const { work, chosen, setChosen, done } = useWorked(type, undefined);
  const why = own.error ? (own.error as Error).message : undefined;
  const narrowed = more && own.data ? setCondition(own.data as Brief, -1, more) : undefined;
  const kept = narrowed ?? (own.data as Brief | undefined);
  const alone = parts.length > 0 ? partOf(brief, Number(part)) : brief;
  const seen = useSeen(schema, alone);
  if (!schema || !seen) return null;
  const where = more && own.data ? conditions(narrowed as Brief).at(-1) : undefined;
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        {onNarrow && (
          <button type="button" className="btn" onClick={onNarrow}>
            Narrow the other panels to this
          </button>
        )}
        {parts.length > 1 && (
          <Seg
            label="Whose records"
            value={part}
            onChange={setPart}
            options={parts.map((p, i) => [String(i), typeOf(schema, p.start)?.label ?? p.key ?? ""])}
          />
        )}
        {parts.length === 0 && !fixed && (
          <Popover.Root>
            <Popover.Trigger className="btn">Columns…</Popover.Trigger>
            <Popover.Content
              className="pop w-[560px] max-w-[calc(100vw-24px)] p-3"
              align="start"
              sideOffset={6}
              collisionPadding={12}
              aria-label="Columns of these records"
            >
              <ColumnsEditor
                schema={seen}
                brief={asked}
                onChange={(b) => setLook({ columns: b.columns ?? [], order: b.order ?? [] })}
              />
            </Popover.Content>
          </Popover.Root>
        )}
        <Popover.Root>
          <Popover.Trigger className="btn" disabled={!own.data} title={why}>
            {more ? "Narrowed…" : "where…"}
          </Popover.Trigger>
          <Popover.Content
            className="pop max-h-[70vh] w-[380px] max-w-[calc(100vw-24px)] overflow-auto p-3"
            align="start"
            sideOffset={6}
            collisionPadding={12}
            aria-label="Narrow these records"
          >
            <TreeEditor
              schema={seen}
              start={alone.start as string}
              value={where}
              onChange={setMore}
              onDrop={more ? () => setMore(undefined) : undefined}
            />
          </Popover.Content>
        </Popover.Root>
        {(me?.mayCompose || report) && (
          <button
            type="button"
            className="btn"
            disabled={!kept}
            title={why}
            onClick={() => kept && void takeOut(kept, report, { view: "records", format: "xlsx" })}
          >
            Export
          </button>
        )}
        {me?.mayCompose && kept && (
          <Link className="btn" to={`/reports/new/${kept.start}?brief=${encodeURIComponent(JSON.stringify(kept))}`}>
            Keep as a report
          </Link>
        )}
      </div>
      {type && (chosen.all ? !!kept : chosen.ids.size > 0) && (
        <ChosenBar
          schema={schema}
          type={type}
          brief={{ ...(kept ?? asked), columns: asked.columns, order: asked.order }}
          chosen={chosen}
          onChoose={setChosen}
          done={done}
        />
      )}
      <Table
        work={type && work}
        brief={narrowed ? { ...narrowed, columns: asked.columns, order: asked.order } : asked}
        marks={narrowed ? undefined : picked.marks}
        part={Number(part)}
        height={height}
        onChange={fixed || parts.length > 0 ? undefined : (b) => setLook({ columns: b.columns, order: b.order ?? [] })}
      />
    </>
  );
}

/** The same beside what it was opened from, which can still be pressed. */
export function Behind({
  picked,
  onClose,
  ...rest
}: Omit<Props, "picked" | "height"> & { picked?: Marks; onClose: () => void }) {
  return (
    <Drawer open={!!picked} onClose={onClose} beside title={`Behind ${picked?.words}`} note={rest.sentence}>
      {picked && (
        <BehindList key={JSON.stringify(picked.marks)} {...rest} picked={picked} height="calc(100vh - 250px)" />
      )}
    </Drawer>
  );
}
