import { type ReactNode, useState } from "react";
import type { Brief, SchemaInfo, Tree } from "../api/client";
import { Within } from "../api/hooks";
import { typeOf } from "../fields/fields";
import { useSeen } from "../fields/useSeen";
import { AsOfEditor } from "./AsOfEditor";
import { BringEditor } from "./BringEditor";
import { ChartEditor } from "./ChartEditor";
import { ColumnsEditor } from "./ColumnsEditor";
import { CompareEditor } from "./CompareEditor";
import type { ClauseKind } from "./clauseNames";
import { conditionAt, conditions, dropCondition, setCondition } from "./edits";
import { GroupEditor } from "./GroupEditor";
import { LimitEditor } from "./LimitEditor";
import { MoneyEditor } from "./MoneyEditor";
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

/** What one kind of clause is edited by. */
type Kind = {
  edit?: (p: ClauseProps) => ReactNode;
  /** The same of a report of several record types, where it is of the whole. */
  editParts?: (p: ClauseProps) => ReactNode;
};

const columns = (p: ClauseProps) =>
  p.pointer === "/limit" ? <LimitEditor {...p} /> : <ColumnsEditor {...p} schema={p.seen} />;

const clauseKinds: Record<ClauseKind, Kind> = {
  records: {
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
  part: {},
  beside: { edit: (p) => <BesideEditor {...p} />, editParts: (p) => <BesideEditor {...p} /> },
  bring: { edit: (p) => <BringEditor {...p} /> },
  whose: { edit: (p) => <WhoseEditor {...p} /> },
  period: { edit: (p) => <PeriodEditor {...p} schema={p.seen} /> },
  filter: { edit: (p) => <ConditionClause {...p} /> },
  own: { edit: (p) => <OwnEditor {...p} schema={p.seen} /> },
  groups: {
    edit: (p) => <GroupEditor {...p} schema={p.seen} axis="groups" />,
    editParts: (p) => <PartsGroupEditor {...p} axis="groups" />,
  },
  across: {
    edit: (p) => <GroupEditor {...p} schema={p.seen} axis="across" />,
    editParts: (p) => <PartsGroupEditor {...p} axis="across" />,
  },
  summaries: {
    edit: (p) => <SummariesEditor {...p} schema={p.seen} />,
    editParts: (p) => <PartsSummaries {...p} />,
  },
  compare: { edit: (p) => <CompareEditor {...p} /> },
  asOf: { edit: (p) => <AsOfEditor {...p} />, editParts: (p) => <AsOfEditor {...p} /> },
  periods: { edit: (p) => <AsOfEditor {...p} />, editParts: (p) => <AsOfEditor {...p} /> },
  money: { edit: (p) => <MoneyEditor {...p} />, editParts: (p) => <MoneyEditor {...p} /> },
  target: { edit: (p) => <TargetEditor {...p} schema={p.seen} /> },
  chart: { edit: (p) => <ChartEditor {...p} /> },
  columns: { edit: columns },
  order: { edit: columns },
};

/** The editor of one clause: about the whole report, or about one of its record types. */
export function ClauseEditor(given: Omit<ClauseProps, "seen"> & { which: ClauseKind }) {
  const { brief, which, pointer, fresh, onChange, onDone } = given;
  const [, part, rest = ""] = /^\/parts\/(\d+)(.*)$/.exec(pointer) ?? [];
  // The editor of one record type sees that one alone.
  const own = part === undefined ? brief : partOf(brief, Number(part));
  const seen = useSeen(given.schema, own);
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
