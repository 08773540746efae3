import { Popover } from "radix-ui";
import { useState } from "react";
import type { Brief, Clause, SchemaInfo, Tree } from "../../api/client";
import { ColumnsEditor } from "./ColumnsEditor";
import { ConditionEditor } from "./ConditionEditor";
import { ChartEditor, GroupEditor, StartEditor, SummariesEditor, WhoseEditor } from "./editors";
import { conditionAt, conditions, dropCondition, setCondition } from "./edits";
import { PeriodEditor } from "./PeriodEditor";
import { typeOf } from "./fields";

type Props = { schema: SchemaInfo; brief: Brief; clauses: Clause[]; shown: string[]; readOnly?: boolean; onChange: (b: Brief) => void };

const lastDigit = (at: string | undefined) => Number(/(\d+)$/.exec(at ?? "")?.[1] ?? 0);

/** The brief as a sentence in which every clause is a control; those not used yet are quiet invitations. */
export function Sentence(props: Props) {
  const { clauses, brief, schema, readOnly } = props;
  const owned = !!typeOf(schema, brief.start)?.owner;
  const has = (key: string) => clauses.some((c) => c.key === key);
  const after = (keys: string[]) => {
    let at = -1;
    clauses.forEach((c, i) => {
      if (keys.includes(c.key)) at = i;
    });
    return at;
  };
  const lead = ["records", "bring", "whose"];
  const invites = new Map<number, React.ReactNode[]>();
  const invite = (at: number, node: React.ReactNode) => invites.set(at, [...(invites.get(at) ?? []), node]);
  if (!readOnly && !brief.parts) {
    if (!has("period")) invite(after(lead), <Invite key="period" label="in a period…" {...props} open="period" />);
    invite(after([...lead, "period", "filter"]), <Invite key="filter" label={has("filter") ? "and…" : "where…"} {...props} open="filter" />);
    if (!has("columns")) invite(after([...lead, "period", "filter", "own"]), <Invite key="columns" label="listing…" {...props} open="columns" />);
    const n = brief.groups?.length ?? 0;
    if (n < 4) invite(after([...lead, "period", "filter", "own", "columns", "order", "groups"]), <Invite key="groups" label={n ? "then by…" : "by…"} {...props} open="groups" at={n} />);
    const a = brief.across?.length ?? 0;
    if (n > 0 && a < 2) invite(after(["groups", "across"]), <Invite key="across" label={a ? "then across…" : "across…"} {...props} open="across" at={a} />);
    if (!has("chart")) invite(clauses.length - 1, <Invite key="chart" label="drawn as…" {...props} open="chart" />);
  }
  return (
    <p className="sentence" aria-label="The report as a sentence">
      {clauses.map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: clauses have no other identity than their place
        <span key={`${c.key}${c.at}${i}`}>
          {c.key === "whose" && !owned ? "" : c.lead}
          {readOnly || !editable(c) ? <span className="font-semibold">{c.text}</span> : <ClauseControl clause={c} {...props} />}
          {c.detail && <span className="ml-1.5 align-baseline text-[13px] text-ink2">{c.detail}</span>}
          {invites.get(i)?.map((node) => (
            <span key={(node as React.ReactElement).key}> {node}</span>
          ))}
        </span>
      ))}
      .
    </p>
  );
}

const known = ["records", "whose", "period", "filter", "groups", "across", "summaries", "chart", "columns", "order"];
const editable = (c: Clause) => known.includes(c.key) && !["/blank", "/totalsOnly", "/limit"].includes(c.at ?? "") && !(c.at ?? "").startsWith("/parts");

function ClauseControl({ clause, ...props }: Props & { clause: Clause }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="clause">{clause.text}</Popover.Trigger>
      <Sheet wide={clause.key === "columns" || clause.key === "order"}>
        <Editor {...props} which={clause.key} at={lastDigit(clause.at)} pointer={clause.at ?? ""} />
      </Sheet>
    </Popover.Root>
  );
}

function Invite({ label, open, at = 0, ...props }: Props & { label: string; open: string; at?: number }) {
  const [shown, setShown] = useState(false);
  return (
    <Popover.Root open={shown} onOpenChange={setShown}>
      <Popover.Trigger className="invite">{label}</Popover.Trigger>
      <Sheet wide={open === "columns"}>
        <Editor {...props} which={open} at={at} pointer="" fresh />
      </Sheet>
    </Popover.Root>
  );
}

function Sheet({ wide, children }: { wide?: boolean; children: React.ReactNode }) {
  return (
    <Popover.Portal>
      <Popover.Content className={`pop p-3 ${wide ? "w-[560px]" : "w-[340px]"}`} align="start" sideOffset={8} collisionPadding={12} aria-label="Edit this part of the report">
        {children}
      </Popover.Content>
    </Popover.Portal>
  );
}

function Editor({ which, at, pointer, fresh, ...p }: Props & { which: string; at: number; pointer: string; fresh?: boolean }) {
  // A condition begun here keeps being edited in the same place once it is in the report.
  const [place, setPlace] = useState(fresh ? -1 : conditionAt(pointer));
  switch (which) {
    case "records":
      return <StartEditor {...p} />;
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
          onDrop={place >= 0 ? () => p.onChange(dropCondition(p.brief, place)) : undefined}
        />
      );
    case "groups":
    case "across":
      return <GroupEditor {...p} axis={which} at={at} />;
    case "summaries":
      return <SummariesEditor {...p} />;
    case "columns":
    case "order":
      return <ColumnsEditor {...p} />;
    default:
      return <ChartEditor {...p} />;
  }
}
