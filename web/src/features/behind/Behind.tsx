import { Popover } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import type { Brief, Mark, Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { RecordTable } from "../../table/RecordTable";
import { Drawer } from "../../ui/Drawer";
import { Seg } from "../../ui/Seg";
import { ColumnsEditor } from "../compose/ColumnsEditor";
import { seenBy, typeOf } from "../compose/fields";
import { partOf } from "../compose/parts";

const none: Mark[] = [];

type Column = Schemas["Column"];

/** The records behind marks, with the conditions spelled out, in the columns that the report gives them or that one chooses. */
export function Behind({
  brief,
  sentence,
  shown,
  fixed,
  picked,
  onNarrow,
  onClose,
}: {
  brief: Brief;
  sentence: string;
  /** The columns that the report gives the records behind a number. */
  shown?: Column[];
  /** Whether this reader may not choose others. */
  fixed?: boolean;
  picked?: { marks: Mark[]; words: string };
  /** Narrows what stands beside it to the same. */
  onNarrow?: () => void;
  onClose: () => void;
}) {
  const schema = useSchema();
  const [look, setLook] = useState<Pick<Brief, "columns" | "order">>();
  const [part, setPart] = useState("0");
  useEffect(() => {
    if (!picked) {
      setLook(undefined);
      setPart("0");
    }
  }, [picked]);
  const parts = brief.parts ?? [];
  const asked = useMemo(() => {
    if (brief.parts) return brief;
    const next = { ...brief, ...(shown?.length ? { columns: shown } : {}), ...look };
    if (!next.columns?.length) delete next.columns;
    if (!next.order?.length) delete next.order;
    return next;
  }, [brief, shown, look]);
  const marks = picked?.marks ?? none;
  const alone = parts.length > 0 ? partOf(brief, Number(part)) : brief;
  return (
    <Drawer open={!!picked} onClose={onClose} title={`Behind ${picked?.words}`} note={sentence}>
      {picked && schema && (
        <>
          <div className="mb-2 flex gap-2">
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
                <Popover.Content className="pop w-[560px] p-3" align="start" sideOffset={6} aria-label="Columns of these records">
                  <ColumnsEditor
                    schema={seenBy(schema, alone)}
                    brief={asked}
                    onChange={(b) => setLook({ columns: b.columns ?? [], order: b.order ?? [] })}
                  />
                </Popover.Content>
              </Popover.Root>
            )}
          </div>
          <RecordTable brief={asked} marks={marks} part={Number(part)} height="calc(100vh - 230px)" />
        </>
      )}
    </Drawer>
  );
}
