import { type ReactNode, useMemo, useState } from "react";
import type { Brief, SchemaInfo, Tree } from "../api/client";
import { Within } from "../api/hooks";
import { seenBy, typeOf } from "../fields/fields";
import { BringEditor } from "./BringEditor";
import { ChartEditor } from "./ChartEditor";
import { ColumnsEditor } from "./ColumnsEditor";
import { CompareEditor } from "./CompareEditor";
import { conditionAt, conditions, dropCondition, setCondition } from "./edits";
import { GroupEditor } from "./GroupEditor";
import { LimitEditor } from "./LimitEditor";
import { OwnEditor } from "./OwnEditor";
import { BesideEditor, PartEditor, PartsGroupEditor, PartsSummaries } from "./PartsEditors";
import { PeriodEditor } from "./PeriodEditor";
import { partOf, putPart } from "./parts";
import { SummariesEditor } from "./SummariesEditor";
import { TargetEditor } from "./TargetEditor";
import { Shortcut, TreeEditor } from "./TreeEditor";
import { StartEditor, WhoseEditor } from "./WhoseEditor";

/** What an editor of a clause is given. */
export type ClauseProps = {
  schema: SchemaInfo;
  /** The record types as the report sees them: with its own fields, and what it brings. */
  seen: SchemaInfo;
  brief: Brief;
  onChange: (b: Brief) => void;
  onDone: () => void;
  /** Which of several of its kind it is. */
  at: number;
  /** Where it stands in the report. */
  pointer: string;
  /** Whether it is not in the report yet. */
  fresh?: boolean;
};

/** One kind of clause: what it is called for those who do not see where it stands, and what it is edited by. */
type Kind = {
  name: string;
  edit?: (p: ClauseProps) => ReactNode;
  /** The same of a report of several record types, where it is of the whole. */
  editParts?: (p: ClauseProps) => ReactNode;
};

const columns = (p: ClauseProps) =>
  p.pointer === "/limit" ? <LimitEditor {...p} /> : <ColumnsEditor {...p} schema={p.seen} />;

/** Every kind of clause. What is not here is said in the sentence and not pressed. */
export const clauseKinds: Record<string, Kind> = {
  records: {
    name: "records",
    edit: (p) => (
      <StartEditor
        {...p}
        onChange={(b) => {
          p.onChange(b);
          p.onDone();
        }}
      />
    ),
  },
  part: { name: "name of these records" },
  beside: { name: "other records", edit: (p) => <BesideEditor {...p} />, editParts: (p) => <BesideEditor {...p} /> },
  bring: { name: "linked records", edit: (p) => <BringEditor {...p} /> },
  whose: { name: "whose", edit: (p) => <WhoseEditor {...p} /> },
  period: { name: "period", edit: (p) => <PeriodEditor {...p} schema={p.seen} /> },
  filter: { name: "condition", edit: (p) => <ConditionClause {...p} /> },
  own: { name: "own field", edit: (p) => <OwnEditor {...p} schema={p.seen} /> },
  groups: {
    name: "group",
    edit: (p) => <GroupEditor {...p} schema={p.seen} axis="groups" />,
    editParts: (p) => <PartsGroupEditor {...p} axis="groups" />,
  },
  across: {
    name: "across",
    edit: (p) => <GroupEditor {...p} schema={p.seen} axis="across" />,
    editParts: (p) => <PartsGroupEditor {...p} axis="across" />,
  },
  summaries: {
    name: "summary",
    edit: (p) => <SummariesEditor {...p} schema={p.seen} />,
    editParts: (p) => <PartsSummaries {...p} />,
  },
  compare: { name: "comparison", edit: (p) => <CompareEditor {...p} /> },
  target: { name: "target", edit: (p) => <TargetEditor {...p} schema={p.seen} /> },
  chart: { name: "chart", edit: (p) => <ChartEditor {...p} /> },
  columns: { name: "columns", edit: columns },
  order: { name: "order", edit: columns },
};

/** The editor of one clause: about the whole report, or about one of its record types. */
export function ClauseEditor(given: Omit<ClauseProps, "seen"> & { which: string }) {
  const { brief, which, pointer, fresh, onChange, onDone } = given;
  const [, part, rest = ""] = /^\/parts\/(\d+)(.*)$/.exec(pointer) ?? [];
  // The editor of one record type sees that one alone.
  const own = part === undefined ? brief : partOf(brief, Number(part));
  const seen = useMemo(() => seenBy(given.schema, own), [given.schema, own]);
  const kind = clauseKinds[which];
  if (part === undefined) return (brief.parts && kind?.editParts ? kind.editParts : kind?.edit)?.({ ...given, seen });
  const at = Number(part);
  if (!fresh && (which === "part" || which === "records"))
    return <PartEditor schema={given.schema} brief={brief} onChange={onChange} onDone={onDone} part={at} />;
  return kind?.edit?.({ ...given, pointer: rest, brief: own, seen, onChange: (b) => onChange(putPart(brief, at, b)) });
}

/** What of a report says which records it is about. */
const asWithin = ({ version, start, whose, period, filter, reading }: Brief) =>
  JSON.parse(JSON.stringify({ version, start, whose, period, filter, reading })) as Brief;

/** A condition. One that is begun here keeps being edited in the same place once it is in the report. */
function ConditionClause({ schema, seen, brief, pointer, fresh, onChange, onDone }: ClauseProps) {
  const [place, setPlace] = useState(fresh ? -1 : conditionAt(pointer));
  const started = place >= 0;
  return (
    <Within.Provider value={asWithin(started ? dropCondition(brief, place) : brief)}>
      <TreeEditor
        schema={seen}
        start={brief.start as string}
        value={started ? conditions(brief)[place] : undefined}
        // Whose they are is a clause of its own, and asked for here as often.
        first={
          typeOf(schema, brief.start)?.owner &&
          brief.whose === undefined && (
            <Shortcut
              label="Mine"
              onPick={() => {
                onChange({ ...brief, whose: "mine" });
                onDone();
              }}
            />
          )
        }
        onChange={(t: Tree) => {
          onChange(setCondition(brief, place, t));
          if (!started) setPlace(conditions(brief).length);
        }}
        onDrop={
          started
            ? () => {
                onChange(dropCondition(brief, place));
                onDone();
              }
            : undefined
        }
      />
    </Within.Provider>
  );
}
