import { Popover } from "radix-ui";
import { useMemo, useRef, useState } from "react";
import type { Brief, Clause, SchemaInfo, Tree } from "../../api/client";
import { ChartEditor } from "./ChartEditor";
import { ColumnsEditor } from "./ColumnsEditor";
import { GroupEditor, StartEditor, SummariesEditor, WhoseEditor } from "./editors";
import { conditionAt, conditions, dropCondition, setCondition } from "./edits";
import { seenBy, typeOf } from "./fields";
import { BringEditor, CompareEditor, LimitEditor, TargetEditor } from "./moreEditors";
import { OwnEditor } from "./OwnEditor";
import { BesideEditor, PartEditor, PartsGroupEditor, PartsSummaries } from "./PartsEditors";
import { PeriodEditor } from "./PeriodEditor";
import { partOf, putPart } from "./parts";
import { Shortcut, TreeEditor } from "./TreeEditor";

type Props = {
  schema: SchemaInfo;
  brief: Brief;
  clauses: Clause[];
  readOnly?: boolean;
  /** Whether clauses not used yet are offered. */
  inviting?: boolean;
  onChange: (b: Brief) => void;
};

const lastDigit = (at: string | undefined) => Number(/(\d+)$/.exec(at ?? "")?.[1] ?? 0);

type Open = { which: string; at: number; pointer: string; fresh?: boolean; id: string };

/**
 * The brief as a sentence in which every clause is a control; those not used yet are quiet invitations. One editor is
 * open at a time. It stays open where it was opened, whatever the sentence around it turns into.
 */
export function Sentence(props: Props) {
  const { clauses, brief, schema, readOnly, inviting = true } = props;
  const [open, setOpen] = useState<Open>();
  const anchor = useRef<{ getBoundingClientRect: () => DOMRect }>({ getBoundingClientRect: () => new DOMRect() });
  const text = useRef<HTMLParagraphElement>(null);
  const start = (e: React.MouseEvent<HTMLElement>, o: Open) => {
    const rect = e.currentTarget.getClientRects()[0] ?? e.currentTarget.getBoundingClientRect();
    anchor.current = { getBoundingClientRect: () => rect };
    setOpen(o);
  };
  const owned = (c: Clause) => {
    const part = /^\/parts\/(\d+)/.exec(c.at ?? "");
    return !!typeOf(schema, part ? brief.parts?.[Number(part[1])]?.start : brief.start)?.owner;
  };
  const has = (key: string) => clauses.some((c) => c.key === key);
  const after = (keys: string[]) => clauses.reduce((at, c, i) => (keys.includes(c.key) ? i : at), -1);
  const invites = new Map<number, React.ReactNode[]>();
  const invite = (keys: string[] | undefined, which: string, label: string, at = 0) => {
    const place = keys ? after(keys) : clauses.length - 1;
    const id = `invite ${which}`;
    const node = (
      <Invite key={id} open={open?.id === id} label={label} onClick={(e) => start(e, { which, at, pointer: "", fresh: true, id })} />
    );
    invites.set(place, [...(invites.get(place) ?? []), node]);
  };
  if (!readOnly && inviting && brief.parts) {
    const groups = brief.groups?.length ?? 0;
    const across = brief.across?.length ?? 0;
    brief.parts.forEach((_, i) => {
      const own = (key: string) => clauses.reduce((at, c, k) => (c.at?.startsWith(`/parts/${i}/${key}`) ? k : at), -1);
      const last = Math.max(own("start"), own("whose"));
      const put = (which: string, label: string, place: number) => {
        const id = `invite ${i} ${which}`;
        invites.set(place, [
          ...(invites.get(place) ?? []),
          <Invite
            key={id}
            open={open?.id === id}
            label={label}
            onClick={(e) => start(e, { which, at: 0, pointer: `/parts/${i}`, fresh: true, id })}
          />,
        ]);
      };
      if (own("period") < 0) put("period", "in a period…", last);
      put("filter", own("filter") < 0 ? "where…" : "and…", Math.max(last, own("period"), own("filter")));
    });
    const whole = clauses.reduce((at, c, k) => (c.at?.startsWith("/parts") ? k : at), 0);
    const add = (place: number, which: string, label: string, at: number) => {
      const id = `invite ${which}`;
      invites.set(place, [
        ...(invites.get(place) ?? []),
        <Invite key={id} open={open?.id === id} label={label} onClick={(e) => start(e, { which, at, pointer: "", fresh: true, id })} />,
      ]);
    };
    if (brief.parts.length < 4) add(whole, "beside", "beside them…", 0);
    if (groups < 4) add(Math.max(whole, after(["groups"])), "groups", groups ? "then by…" : "by…", groups);
    if (groups > 0 && across < 2) add(after(["groups", "across"]), "across", across ? "then across…" : "across…", across);
    if (!has("chart") && groups > 0) add(clauses.length - 1, "chart", "drawn as…", 0);
  }
  if (!readOnly && inviting && !brief.parts) {
    const narrowed = ["records", "bring", "whose", "period", "filter"];
    const groups = brief.groups?.length ?? 0;
    const across = brief.across?.length ?? 0;
    if (!has("bring") && (typeOf(schema, brief.start)?.backs.length ?? 0) > 0) invite(narrowed.slice(0, 3), "bring", "each with its…");
    if (!has("period")) invite(narrowed.slice(0, 3), "period", "in a period…");
    invite(narrowed, "filter", has("filter") ? "and…" : "where…");
    invite([...narrowed, "own"], "own", has("own") ? "and taking…" : "taking…", brief.own?.length ?? 0);
    if (!has("columns")) invite([...narrowed, "own"], "columns", "listing…");
    invite([...narrowed, "own", "columns", "order"], "beside", "beside them…");
    if (groups < 4) invite([...narrowed, "own", "columns", "order", "groups"], "groups", groups ? "then by…" : "by…", groups);
    if (groups > 0 && across < 2) invite(["groups", "across"], "across", across ? "then across…" : "across…", across);
    const summed = [...narrowed, "own", "columns", "order", "groups", "across", "summaries"];
    if (!has("compare") && has("period")) invite(summed, "compare", "against…");
    const totals = groups > 0 || (brief.summaries?.length ?? 0) > 0 || has("target");
    if (!has("target") && totals) invite([...summed, "compare"], "target", "towards…");
    if (!has("chart") && totals) invite(undefined, "chart", "drawn as…");
  }
  return (
    <>
      <p ref={text} role="group" className="sentence" aria-label="The report as a sentence">
        {clauses.map((c, i) => {
          const id = `${c.key} ${c.at ?? ""} ${c.key === "summaries" ? i : ""}`;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no other identity than their place
            <span key={`${id} ${i}`}>
              {c.key === "whose" && !owned(c) ? "" : c.lead}
              {readOnly || !editable(c) ? (
                <span className={/^\/parts\/\d+$/.test(c.at ?? "") ? "text-ink2" : "font-semibold"}>{c.text}</span>
              ) : (
                <Pressed
                  look="clause"
                  clause={c.key}
                  open={open?.id === id}
                  onPress={(e) => start(e, { which: c.key, at: lastDigit(c.at), pointer: c.at ?? "", id })}
                >
                  {c.text}
                </Pressed>
              )}
              {c.detail && <span className="align-baseline text-[13px] text-ink2"> {c.detail}</span>}
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
            className={`pop p-3 ${open?.which === "columns" || open?.which === "order" ? "w-[560px]" : "w-[380px]"} max-h-[76vh] overflow-auto`}
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

const known = [
  "records",
  "bring",
  "whose",
  "period",
  "filter",
  "own",
  "groups",
  "across",
  "summaries",
  "compare",
  "target",
  "chart",
  "columns",
  "order",
];
const editable = (c: Clause) => known.includes(c.key) && c.at !== "/blank" && !/^\/parts\/\d+$/.test(c.at ?? "");

/** An invitation to a clause that is not used yet. */
function Invite({ label, open, onClick }: { label: string; open: boolean; onClick: (e: React.MouseEvent<HTMLElement>) => void }) {
  return (
    <>
      {" "}
      <Pressed look="invite" open={open} onPress={onClick}>
        {label}
      </Pressed>
    </>
  );
}

/**
 * Words of the sentence that are pressed. They are a span that behaves as a button: a button can neither break inside a
 * line of text, nor keep the comma that follows it on its line.
 */
function Pressed({
  look,
  clause,
  open,
  onPress,
  children,
}: {
  look: "clause" | "invite";
  clause?: string;
  open: boolean;
  onPress: (e: React.MouseEvent<HTMLElement>) => void;
  children: string;
}) {
  return (
    <span
      role="button"
      tabIndex={0}
      className={look}
      data-clause={clause}
      aria-expanded={open}
      onClick={onPress}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        e.currentTarget.click();
      }}
    >
      {children}
    </span>
  );
}

function Editor(given: Props & Open & { onDone: () => void }) {
  const { brief, which, at, onChange, onDone } = given;
  const part = /^\/parts\/(\d+)(.*)$/.exec(given.pointer);
  if (which === "beside") return <BesideEditor {...given} />;
  if (!brief.parts) return <OneEditor {...given} />;
  if (part && (which === "records" || part[2] === "")) {
    if (!given.fresh) return <PartEditor {...given} part={Number(part[1])} />;
  }
  if (part) {
    const i = Number(part[1]);
    return <OneEditor {...given} pointer={part[2]} brief={partOf(brief, i)} onChange={(b) => onChange(putPart(brief, i, b))} />;
  }
  if (which === "groups" || which === "across") return <PartsGroupEditor {...given} axis={which} at={at} onDone={onDone} />;
  if (which === "summaries") return <PartsSummaries {...given} />;
  return <OneEditor {...given} />;
}

/** The editor of a clause about one record type, or about the whole report. */
function OneEditor({ which, at, pointer, fresh, onDone, ...given }: Props & Open & { onDone: () => void }) {
  // A condition begun here keeps being edited in the same place once it is in the report.
  const [place, setPlace] = useState(fresh ? -1 : conditionAt(pointer));
  const seen = useMemo(() => seenBy(given.schema, given.brief), [given.schema, given.brief]);
  const p = { ...given, schema: seen };
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
      return <WhoseEditor {...given} />;
    case "period":
      return <PeriodEditor {...p} />;
    case "filter":
      return (
        <TreeEditor
          schema={p.schema}
          start={p.brief.start as string}
          value={place >= 0 ? conditions(p.brief)[place] : undefined}
          // Whose they are is a clause of its own, and asked for here as often.
          first={
            typeOf(p.schema, p.brief.start)?.owner &&
            p.brief.whose === undefined && (
              <Shortcut
                label="Mine"
                onPick={() => {
                  p.onChange({ ...p.brief, whose: "mine" });
                  onDone();
                }}
              />
            )
          }
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
    case "bring":
      return <BringEditor {...given} onDone={onDone} />;
    case "own":
      return <OwnEditor schema={p.schema} brief={p.brief} onChange={p.onChange} at={at} onDone={onDone} />;
    case "compare":
      return <CompareEditor {...p} onDone={onDone} />;
    case "target":
      return <TargetEditor {...p} onDone={onDone} />;
    case "columns":
    case "order":
      return pointer === "/limit" ? <LimitEditor {...p} onDone={onDone} /> : <ColumnsEditor {...p} />;
    default:
      return <ChartEditor {...p} />;
  }
}
