import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, ask, type Brief, type Clause, type SchemaInfo, type TypeInfo } from "../../api/client";
import { useAnswer, useMe, useSchema } from "../../api/hooks";
import { anew } from "../../api/keys";
import { conditionAt, conditions } from "../../brief/edits";
import { Sentence } from "../../brief/Sentence";
import { typeOf } from "../../fields/fields";
import { Table } from "../../table/Table";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { RecordForm } from "../records/RecordForm";
import { ChosenBar } from "../work/ChosenBar";
import { everything } from "../work/everything";
import { useWorked } from "../work/useWorked";
import { BesideChart } from "./BesideChart";
import { firstDrawn, type ListChoice } from "./drawing";
import { ListTabs } from "./ListTabs";
import { MoreMenu } from "./MoreMenu";
import { letGo, notNarrowed, taken } from "./narrowing";
import { askSought, sought } from "./sought";
import { useListState } from "./useListState";

/** The records of a type as a list that one works in. */
export function ListPage() {
  const { type = "" } = useParams();
  const schema = useSchema();
  const t = schema && typeOf(schema, type);
  const lists = useQuery({
    queryKey: ["lists", type],
    enabled: !!t,
    queryFn: () => ask(api.GET("/api/lists/{type}", { params: { path: { type } } })),
  });
  if (schema && !t) return <p className="text-ink2">There is no record type “{type}”.</p>;
  if (lists.error) return <Trouble error={lists.error} />;
  if (!schema || !t || !lists.data) return null;
  return <WorkList key={type} schema={schema} type={t} lists={lists.data.lists} choice={lists.data.choice} />;
}

type Lists = Parameters<typeof ListTabs>[0]["lists"];

function WorkList({
  schema,
  type,
  lists,
  choice,
}: {
  schema: SchemaInfo;
  type: TypeInfo;
  lists: Lists;
  choice: ListChoice;
}) {
  const me = useMe().data;
  const client = useQueryClient();
  const go = useNavigate();
  const first = lists.some((r) => r.id === choice.first) ? (choice.first ?? 0) : 0;
  const state = useListState(
    type.key,
    useMemo(() => everything(type), [type]),
    lists,
    first,
  );
  const { said, shown, narrowing, search } = state;
  const [making, setMaking] = useState(false);
  const answer = useAnswer(said, 1);
  const grouped = (shown.groups?.length ?? 0) > 0;
  const groups = useAnswer(grouped ? shown : undefined);
  const asked = grouped ? "" : JSON.stringify(shown);
  const from = useMemo(() => (asked ? (JSON.parse(asked) as Brief) : undefined), [asked]);
  const { work, chosen, setChosen, done, calm } = useWorked(type, from);
  const [choose] = useDo(
    (c: ListChoice) => ask(api.PUT("/api/lists/{type}/mine", { params: { path: { type: type.key } }, body: c })),
    () => anew(client, "lists"),
  );
  const onChoice = (c: Partial<ListChoice>) => {
    const next = { ...choice, ...c };
    client.setQueryData(["lists", type.key], { lists, choice: next });
    choose(next);
  };
  const draw = choice.chart ?? firstDrawn(type);
  const place = draw ? (choice.place ?? "closed") : "closed";

  const edit = (b: Brief) => {
    calm();
    const next = taken(b, narrowing);
    state.go({ list: next.list, narrowing: next.narrowing });
  };
  const narrow = (n: typeof narrowing) => {
    calm();
    state.go({ narrowing: n });
  };
  const turn = (place: NonNullable<ListChoice["place"]>) => {
    onChoice({ place });
    // What cannot be seen narrows nothing.
    if (place === "closed" && narrowing.from.length) narrow(notNarrowed);
  };
  const own = conditions(state.list).length;
  const fromChart = (c: Clause) => {
    const i = conditionAt(c.at ?? "");
    if (i < own) return undefined;
    const cond = conditions(said)[i];
    return (
      cond && (
        <button
          type="button"
          className="ml-1 align-baseline text-[13px] text-rust hover:underline"
          aria-label={`Let go of ${c.text}, from the chart`}
          onClick={() => narrow(letGo(narrowing, cond))}
        >
          from the chart ×
        </button>
      )
    );
  };
  const chart = draw && place !== "closed" && (
    <BesideChart
      schema={schema}
      type={type}
      list={state.sought}
      narrowing={narrowing}
      draw={draw}
      above={place === "above"}
      onNarrow={narrow}
      onDraw={(chart) => onChoice({ chart })}
      onPlace={turn}
    />
  );
  return (
    <>
      <header className="mb-1 flex flex-wrap items-center gap-2">
        <h1 className="title mr-auto text-[26px]">{type.label}</h1>
        <Search
          label={`Find in all texts of ${type.label.toLowerCase()}`}
          value={search}
          onChange={(text) => {
            if (!grouped) askSought(client, said, text);
            calm();
            state.go({ search: text });
          }}
        />
        {draw && (
          <button
            type="button"
            className="btn"
            aria-pressed={place !== "closed"}
            onClick={() => turn(place === "closed" ? "beside" : "closed")}
          >
            Chart
          </button>
        )}
        <MoreMenu type={type} kept={state.kept} />
        {type.written && (
          <button type="button" className="btn btn-main" onClick={() => setMaking(true)}>
            New {type.one}
          </button>
        )}
      </header>
      <ListTabs type={type} lists={lists} first={first} state={state} onFirst={(id) => onChoice({ first: id })} />
      {answer.data && (
        <Sentence
          schema={schema}
          brief={said}
          clauses={answer.data.sentence.filter((c) => c.key !== "chart" && (grouped || c.key !== "summaries"))}
          only={clauses}
          after={fromChart}
          onChange={edit}
        />
      )}
      <Trouble error={answer.error} />
      {answer.error && (
        <button type="button" className="btn mb-2" onClick={() => state.go({ kept: "all" })}>
          All {type.label.toLowerCase()}
        </button>
      )}
      {place === "above" && chart}
      <div className="mt-1 flex items-stretch gap-3 max-lg:flex-col">
        <div className="sheet min-w-0 flex-1 p-2">
          {(chosen.all || chosen.ids.size > 0) && state.settled && (
            <ChosenBar
              schema={schema}
              type={type}
              brief={plain(shown)}
              chosen={chosen}
              onChoose={setChosen}
              done={done}
            />
          )}
          {(!grouped || groups.data) && (
            <Table
              answer={grouped ? groups.data : undefined}
              details
              {...(search.trim() && !grouped ? { brief: said, ...sought(said, search) } : { brief: shown })}
              height={`max(220px, 100vh - ${place === "above" ? 560 : 265}px)`}
              onChange={(b) => state.go({ list: { ...state.list, order: b.order, columns: b.columns } })}
              work={work}
            />
          )}
          <p className="px-2 pt-1 text-[12px] text-ink3">
            Arrows go from cell to cell · Enter edits · Space chooses · Ctrl+Enter opens · Ctrl+Z takes back
          </p>
        </div>
        {place === "beside" && chart}
      </div>
      {making && (
        <RecordForm
          type={type}
          names={me ? { owner: me.name } : {}}
          begun={type.owner && me ? { [type.owner]: String(me.id) } : {}}
          onClose={() => setMaking(false)}
          onDone={(id) => go(`/records/${type.key}/${id}`)}
        />
      )}
    </>
  );
}

/** What is looked for, as it is typed; where the address comes to have another, that. */
function Search({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  const [text, setText] = useState(value);
  // What was typed comes back from the address later, one key after another: only what was not typed here is another text.
  const sent = useRef([value]);
  useEffect(() => {
    const at = sent.current.lastIndexOf(value);
    if (at < 0) setText(value);
    sent.current = at < 0 ? [value] : sent.current.slice(at);
  }, [value]);
  return (
    <input
      className="input !w-56"
      type="search"
      aria-label={label}
      placeholder="Find in all texts"
      value={text}
      onChange={(e) => {
        sent.current.push(e.target.value);
        setText(e.target.value);
        onChange(e.target.value);
      }}
    />
  );
}

/** What of its sentence makes a list another; what else a kept one has is said and stays. */
const clauses = ["whose", "period", "filter", "columns", "order", "groups", "summaries"] as const;

/** The records of a list alone, without how they are grouped. */
const plain = ({ groups: _, across: __, summaries: ___, chart: ____, totalsOnly: _____, ...b }: Brief): Brief => b;
