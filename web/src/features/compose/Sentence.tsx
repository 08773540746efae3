import { Popover } from "radix-ui";
import { useRef, useState } from "react";
import type { Brief, Clause, SchemaInfo, Tree } from "../../api/client";
import { ColumnsEditor } from "./ColumnsEditor";
import { ConditionEditor } from "./ConditionEditor";
import { ChartEditor, GroupEditor, StartEditor, SummariesEditor, WhoseEditor } from "./editors";
import { conditionAt, conditions, dropCondition, setCondition } from "./edits";
import { PeriodEditor } from "./PeriodEditor";
import { typeOf } from "./fields";

type Props = { schema: SchemaInfo; brief: Brief; clauses: Clause[]; readOnly?: boolean; onChange: (b: Brief) => void };

const lastDigit = (at: string | undefined) => Number(/(\d+)$/.exec(at ?? "")?.[1] ?? 0);

type Open = { which: string; at: number; pointer: string; fresh?: boolean; id: string };

/**
 * The brief as a sentence in which every clause is a control; those not used yet are quiet invitations. One editor is
 * open at a time. It stays open where it was opened, whatever the sentence around it turns into.
 */
export function Sentence(props: Props) {
  const { clauses, brief, schema, readOnly } = props;
  const [open, setOpen] = useState<Open>();
  const anchor = useRef<{ getBoundingClientRect: () => DOMRect }>({ getBoundingClientRect: () => new DOMRect() });
  const text = useRef<HTMLParagraphElement>(null);
  const start = (e: React.MouseEvent<HTMLElement>, o: Open) => {
    const rect = e.currentTarget.getClientRects()[0] ?? e.currentTarget.getBoundingClientRect();
    anchor.current = { getBoundingClientRect: () => rect };
    setOpen(o);
  };
  const owned = !!typeOf(schema, brief.start)?.owner;
  const has = (key: string) => clauses.some((c) => c.key === key);
  const after = (keys: string[]) => clauses.reduce((at, c, i) => (keys.includes(c.key) ? i : at), -1);
  const invites = new Map<number, React.ReactNode[]>();
  const invite = (keys: string[] | undefined, which: string, label: string, at = 0) => {
    const place = keys ? after(keys) : clauses.length - 1;
    const id = `invite ${which}`;
    const node = (
      <span key={id}>
        {" "}
        <button
          type="button"
          className="invite"
          aria-expanded={open?.id === id}
          onClick={(e) => start(e, { which, at, pointer: "", fresh: true, id })}
        >
          {label}
        </button>
      </span>
    );
    invites.set(place, [...(invites.get(place) ?? []), node]);
  };
  if (!readOnly && !brief.parts) {
    const narrowed = ["records", "bring", "whose", "period", "filter"];
    const groups = brief.groups?.length ?? 0;
    const across = brief.across?.length ?? 0;
    if (!has("period")) invite(narrowed.slice(0, 3), "period", "in a period…");
    invite(narrowed, "filter", has("filter") ? "and…" : "where…");
    if (!has("columns")) invite([...narrowed, "own"], "columns", "listing…");
    if (groups < 4) invite([...narrowed, "own", "columns", "order", "groups"], "groups", groups ? "then by…" : "by…", groups);
    if (groups > 0 && across < 2) invite(["groups", "across"], "across", across ? "then across…" : "across…", across);
    if (!has("chart")) invite(undefined, "chart", "drawn as…");
  }
  return (
    <>
      <p ref={text} role="group" className="sentence" aria-label="The report as a sentence">
        {clauses.map((c, i) => {
          const id = `${c.key} ${c.at ?? ""} ${c.key === "summaries" ? i : ""}`;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no other identity than their place
            <span key={`${id} ${i}`}>
              {c.key === "whose" && !owned ? "" : c.lead}
              {readOnly || !editable(c) ? (
                <span className="font-semibold">{c.text}</span>
              ) : (
                <button
                  type="button"
                  className="clause"
                  data-clause={c.key}
                  aria-expanded={open?.id === id}
                  onClick={(e) => start(e, { which: c.key, at: lastDigit(c.at), pointer: c.at ?? "", id })}
                >
                  {c.text}
                </button>
              )}
              {c.detail && <span className="ml-1.5 align-baseline text-[13px] text-ink2">{c.detail}</span>}
              {invites.get(i)}
            </span>
          );
        })}
        .
      </p>
      <Popover.Root open={!!open} onOpenChange={(is) => !is && setOpen(undefined)}>
        <Popover.Anchor virtualRef={anchor} />
        <Popover.Portal>
          <Popover.Content
            className={`pop p-3 ${open?.which === "columns" || open?.which === "order" ? "w-[560px]" : "w-[340px]"}`}
            align="start"
            sideOffset={8}
            collisionPadding={12}
            aria-label="Edit this part of the report"
            onCloseAutoFocus={(e) => {
              e.preventDefault();
              text.current?.querySelector<HTMLElement>(`[data-clause="${open?.which}"]`)?.focus();
            }}
          >
            {open && <Editor key={open.id} {...props} {...open} onDone={() => setOpen(undefined)} />}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}

const known = ["records", "whose", "period", "filter", "groups", "across", "summaries", "chart", "columns", "order"];
const editable = (c: Clause) =>
  known.includes(c.key) && !["/blank", "/totalsOnly", "/limit"].includes(c.at ?? "") && !(c.at ?? "").startsWith("/parts");

function Editor({ which, at, pointer, fresh, onDone, ...p }: Props & Open & { onDone: () => void }) {
  // A condition begun here keeps being edited in the same place once it is in the report.
  const [place, setPlace] = useState(fresh ? -1 : conditionAt(pointer));
  switch (which) {
    case "records":
      return (
        <StartEditor
          {...p}
          onChange={(b) => {
            p.onChange(b);
            onDone();
          }}
        />
      );
    case "whose":
      return <WhoseEditor {...p} />;
    case "period":
      return <PeriodEditor {...p} />;
    case "filter":
      return (
        <ConditionEditor
          schema={p.schema}
          start={p.brief.start as string}
          value={place >= 0 ? conditions(p.brief)[place] : undefined}
          onChange={(t: Tree) => {
            const list = conditions(p.brief);
            p.onChange(setCondition(p.brief, place, t));
            if (place < 0) setPlace(list.length);
          }}
          onDrop={
            place >= 0
              ? () => {
                  p.onChange(dropCondition(p.brief, place));
                  onDone();
                }
              : undefined
          }
        />
      );
    case "groups":
    case "across":
      return <GroupEditor {...p} axis={which} at={at} onDone={onDone} />;
    case "summaries":
      return <SummariesEditor {...p} />;
    case "columns":
    case "order":
      return <ColumnsEditor {...p} />;
    default:
      return <ChartEditor {...p} />;
  }
}
