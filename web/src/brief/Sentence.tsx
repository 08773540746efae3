import { Popover } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import type { Brief, Clause, SchemaInfo } from "../api/client";
import { idle } from "../api/idle";
import { typeOf } from "../fields/fields";
import { HelpButton } from "../ui/HelpButton";
import { Hint } from "../ui/Hint";
import { later } from "../ui/later";
import { type ClauseKind, clauseNames, helpOfClause, isClauseKind } from "./clauseNames";
import { invites } from "./invites";

type Props = {
  schema: SchemaInfo;
  brief: Brief;
  clauses: Clause[];
  readOnly?: boolean;
  /** Whether clauses not used yet are offered. */
  inviting?: boolean;
  /** The kinds of clauses that are edited here; without it, all. */
  only?: readonly ClauseKind[];
  /** What stands behind a clause. */
  after?: (c: Clause) => React.ReactNode;
  /** Opens what the chart looks like beside it; without it, its editor opens over the sentence. */
  onStyle?: () => void;
  onChange: (b: Brief) => void;
};

const lastDigit = (at: string | undefined) => Number(/(\d+)$/.exec(at ?? "")?.[1] ?? 0);

/** The editors, which who only reads does not load. */
const ClauseEditor = later(() => import("./clauses").then((m) => m.ClauseEditor));

type Open = { which: ClauseKind; at: number; pointer: string; fresh?: boolean; id: string };

/**
 * The brief as a sentence in which every clause is a control; what it can still be given stands below it. One editor is
 * open at a time: a press on another clause goes there at once. It stays open where it was opened, whatever the sentence
 * around it turns into, and hands the focus back to where one was.
 */
export function Sentence(props: Props) {
  const { clauses, brief, schema, readOnly, inviting = true, only } = props;
  const [open, setOpen] = useState<Open>();
  const now = useRef<Open>(undefined);
  now.current = open;
  const anchor = useRef<{ getBoundingClientRect: () => DOMRect }>({ getBoundingClientRect: () => new DOMRect() });
  const text = useRef<HTMLDivElement>(null);
  const wanted = useRef<Open>(undefined);
  const start = (e: React.MouseEvent<HTMLElement>, o: Open) => {
    if (o.which === "chart" && props.onStyle) {
      setOpen(undefined);
      return props.onStyle();
    }
    const rect = e.currentTarget.getClientRects()[0] ?? e.currentTarget.getBoundingClientRect();
    anchor.current = { getBoundingClientRect: () => rect };
    const turn = () => setOpen((now) => (now?.id === o.id ? undefined : o));
    if (ClauseEditor.isReady()) turn();
    else ClauseEditor.ready().finally(turn);
  };
  const back = (o: Open | undefined) => {
    if (!o) return;
    const all = [...(text.current?.querySelectorAll<HTMLElement>("[data-clause]") ?? [])];
    const same = (el: HTMLElement) => el.dataset.clause === o.id;
    const alike = (el: HTMLElement) => el.dataset.clause?.split(" ")[0] === o.which;
    (all.find(same) ?? all.findLast(alike) ?? all[0])?.focus();
  };
  // What was focused can go from the sentence when its answer comes: the focus then goes to what stands for it.
  useEffect(() => {
    if (
      clauses &&
      wanted.current &&
      !now.current &&
      (!document.activeElement || document.activeElement === document.body)
    )
      back(wanted.current);
  });
  // Once one has gone on to something else, the sentence asks for it no more.
  useEffect(() => {
    const elsewhere = (e: FocusEvent) => {
      if (e.target instanceof Node && !text.current?.contains(e.target)) wanted.current = undefined;
    };
    document.addEventListener("focusin", elsewhere);
    return () => document.removeEventListener("focusin", elsewhere);
  }, []);
  useEffect(() => {
    if (inviting && !readOnly) idle(() => ClauseEditor.ready().catch(() => undefined));
  }, [inviting, readOnly]);
  const owned = (c: Clause) => {
    const part = /^\/parts\/(\d+)/.exec(c.at ?? "");
    return !!typeOf(schema, part ? brief.parts?.[Number(part[1])]?.start : brief.start)?.owner;
  };
  const inside = (target: EventTarget | null) => target instanceof Node && !!text.current?.contains(target);
  return (
    <>
      <div ref={text} className="mb-1" role="group" aria-label="The report as a sentence">
        <p className="sentence">
          {clauses.map((c, i) => {
            const id = `${c.key} ${c.at ?? ""} ${c.key === "summaries" ? i : ""}`;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no other identity than their place
              <span key={`${id} ${i}`}>
                {c.key === "whose" && !owned(c) ? "" : c.lead}
                {readOnly || !editable(c) || !(only?.includes(c.key) ?? true) ? (
                  <span className="font-semibold">{c.text}</span>
                ) : (
                  <Pressed
                    id={id}
                    name={`${isClauseKind(c.key) ? clauseNames[c.key] : c.key}: ${c.text}`}
                    open={open?.id === id}
                    onPress={(e) => start(e, { which: c.key, at: lastDigit(c.at), pointer: c.at ?? "", id })}
                  >
                    {c.text}
                  </Pressed>
                )}
                {props.after?.(c)}
                {c.detail && <span className="align-baseline text-[13px] text-ink2"> ({c.detail})</span>}
              </span>
            );
          })}
          .
        </p>
        {!readOnly && inviting && (
          <p className="invites">
            <span className="sr-only">It can be given: </span>
            {invites(schema, brief, clauses).map((v) => {
              if (only && !only.includes(v.which)) return null;
              const id = `invite ${v.which} ${v.pointer}`;
              return (
                <Hint key={id} text={v.help} off={!!open}>
                  <button
                    type="button"
                    className="invite"
                    data-clause={id}
                    aria-haspopup="dialog"
                    aria-expanded={open?.id === id}
                    onClick={(e) => start(e, { which: v.which, at: v.at, pointer: v.pointer, fresh: true, id })}
                  >
                    {v.label}
                  </button>
                </Hint>
              );
            })}
          </p>
        )}
      </div>
      <Popover.Root key={open?.id} open={!!open} onOpenChange={(is) => !is && setOpen(undefined)}>
        <Popover.Anchor virtualRef={anchor} />
        <Popover.Portal>
          <Popover.Content
            className={`pop p-3 ${open?.which === "columns" || open?.which === "order" ? "w-[560px]" : "w-[380px]"} max-h-[min(76vh,var(--radix-popover-content-available-height))] max-w-[calc(100vw-24px)] overflow-auto`}
            align="start"
            sideOffset={8}
            collisionPadding={12}
            aria-label={open ? `Edit: ${clauseNames[open.which]}` : undefined}
            // A press on another clause opens that one, in one go; the guide is read beside it.
            onInteractOutside={(e) =>
              (inside(e.target) || (e.target as Element).closest?.("[data-guide]")) && e.preventDefault()
            }
            onEscapeKeyDown={(e) => document.querySelector("[data-dragging]") && e.preventDefault()}
            onCloseAutoFocus={(e) => {
              e.preventDefault();
              // Who went on to something else meanwhile stays there.
              if (now.current || (document.activeElement && document.activeElement !== document.body)) return;
              wanted.current = open;
              back(open);
            }}
          >
            {open && <ClauseEditor {...props} {...open} onDone={() => setOpen(undefined)} />}
            {open && (
              <p className="mt-2 flex justify-end">
                <HelpButton page={helpOfClause[open.which]} />
              </p>
            )}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}

const editable = (c: Clause): c is Clause & { key: ClauseKind } => isClauseKind(c.key) && c.at !== "/blank";

/**
 * Words of the sentence that are pressed. They are a span that behaves as a button: a button can neither break inside a
 * line of text, nor keep the comma that follows it on its line.
 */
function Pressed({
  id,
  name,
  open,
  onPress,
  children,
}: {
  id: string;
  name: string;
  open: boolean;
  onPress: (e: React.MouseEvent<HTMLElement>) => void;
  children: string;
}) {
  const down = useRef(false);
  return (
    <span
      role="button"
      tabIndex={0}
      className="clause"
      data-clause={id}
      aria-label={name}
      aria-haspopup="dialog"
      aria-expanded={open}
      onClick={onPress}
      // Opened when the key is let go: what opens takes the focus, and must not hear the same key.
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        down.current = true;
      }}
      onKeyUp={(e) => {
        if ((e.key === "Enter" || e.key === " ") && down.current) e.currentTarget.click();
        down.current = false;
      }}
    >
      {children}
    </span>
  );
}
