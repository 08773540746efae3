import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type SchemaInfo, type Schemas, type TypeInfo } from "../../api/client";
import { may, useMe, useSchema } from "../../api/hooks";
import { recordsAnew } from "../../api/keys";
import { typeOf } from "../../fields/fields";
import { letterOf } from "../../ui/letters";
import { Menu, MenuItem } from "../../ui/Menu";
import { Trouble } from "../../ui/Say";
import { TypeIcon } from "../../ui/TypeIcon";
import { tell } from "../../ui/tell";
import { PanelBehind } from "../boards/PanelBehind";
import type { Picked } from "../boards/PanelCard";
import { LogLine } from "../work/LogLine";
import { diaryOf } from "../work/logging";
import { useUndo } from "../work/useUndo";
import { About } from "./About";
import { Facts, factsOf } from "./Facts";
import { FollowButton } from "./FollowButton";
import { InList } from "./InList";
import { type Layout, LayoutDrawer } from "./LayoutDrawer";
import { Linked } from "./Linked";
import { MergeDialog } from "./MergeDialog";
import { PagePanels } from "./PagePanels";
import { RecordForm } from "./RecordForm";
import { StageLine } from "./StageLine";
import { Timeline } from "./Timeline";

/** One record: what matters first, its fields, what was done about it, what is linked to it, the reports on its page. */
export function RecordPage() {
  const { type = "", id = "" } = useParams();
  const schema = useSchema();
  const record = useQuery({
    queryKey: ["record", type, id],
    queryFn: () => ask(api.GET("/api/records/{type}/{id}", { params: { path: { type, id } } })),
  });
  if (record.error) return <Trouble error={record.error} />;
  const info = schema && typeOf(schema, type);
  if (!record.data || !schema || !info) return null;
  return <Record key={`${type} ${id}`} schema={schema} type={info} id={id} record={record.data} />;
}

function Record({
  schema,
  type,
  id,
  record: r,
}: {
  schema: SchemaInfo;
  type: TypeInfo;
  id: string;
  record: Schemas["RecordBody"];
}) {
  const [picked, setPicked] = useState<Picked>();
  const [changing, setChanging] = useState(false);
  const [merging, setMerging] = useState(false);
  const me = useMe().data;
  const client = useQueryClient();
  const go = useNavigate();
  const done = useUndo();
  const at = { params: { path: { type: type.key, id: Number(id) } } };
  const back = useMutation({
    mutationFn: () => ask(api.POST("/api/deleted-records/{type}/{id}/back", at)),
    onSuccess: () => {
      recordsAnew(client);
      go(`/records/${type.key}/${id}`);
    },
    onError: tell,
  });
  const drop = useMutation({
    mutationFn: () =>
      ask(api.DELETE("/api/records/{type}", { params: { path: { type: type.key } }, body: { ids: [Number(id)] } })),
    onSuccess: () => {
      recordsAnew(client);
      go(`/records/${type.key}`);
      toast("Deleted. It can be brought back for 30 days.", {
        action: { label: "Undo", onClick: () => back.mutate() },
      });
    },
    onError: tell,
  });
  const diary = diaryOf(schema);
  const logged = !!type.logged;
  useEffect(() => {
    if (!logged) return;
    const key = (e: KeyboardEvent) => {
      if (letterOf(e) !== "l") return;
      document.querySelector<HTMLElement>("[data-log]")?.focus();
    };
    // Once the key is let go: the line must not hear it, too.
    window.addEventListener("keyup", key);
    return () => window.removeEventListener("keyup", key);
  }, [logged]);
  const beside = r.panels.length > 0 || may(me, "lay_out");
  const name = r.name || `${r.one} ${r.id}`;
  const [tried, setTried] = useState<Layout>();
  const [laying, setLaying] = useState(false);
  const layout = tried ?? r.layout;
  const facts = layout?.first?.length
    ? layout.first.filter((k) => r.fields.some((f) => f.key === k && (f.text !== "" || f.hidden)))
    : factsOf(type, r.fields, id);
  const staged = type.fields.filter((f) => f.stages).map((f) => f.key);
  const listed = type.backs.filter((b) => b.type !== "changes" && b.type !== diary?.key);
  const backs = layout?.lists?.length ? layout.lists.flatMap((k) => listed.filter((b) => b.key === k)) : listed;
  return (
    <>
      <p className="text-[13px] text-ink2">
        <Link to={`/records/${type.key}`} className="hover:underline">
          <TypeIcon icon={type.icon} />
          {r.label}
        </Link>{" "}
        <InList type={type.key} id={id} /> / {r.one} {r.id}
      </p>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="title mr-auto min-w-0 truncate text-[26px]" title={name}>
          {name}
        </h1>
        {logged && <FollowButton type={type.key} id={id} />}
        {type.written && (
          <>
            <Menu label={`More of ${name}`} text="More…">
              <MenuItem label="Merge with another…" onPick={() => setMerging(true)} />
              <MenuItem label="Delete" onPick={() => drop.mutate()} />
              {may(me, "lay_out") && (
                <MenuItem label={`Lay out the page of every ${type.one}…`} onPick={() => setLaying(true)} />
              )}
            </Menu>
            <button type="button" className="btn btn-main" onClick={() => setChanging(true)}>
              Change
            </button>
          </>
        )}
      </div>
      {staged.length > 0 && <StageLine type={type} id={id} done={done} />}
      {(facts.length > 0 || logged) && <Facts type={type} id={id} fields={r.fields} keys={facts} next={logged} />}
      <div
        className={`grid items-start gap-3 ${beside ? "min-[1100px]:grid-cols-[minmax(0,264px)_minmax(0,1fr)_minmax(0,330px)]" : "min-[900px]:grid-cols-[minmax(0,300px)_minmax(0,1fr)]"}`}
      >
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3">
          <About
            type={type}
            id={id}
            fields={r.fields}
            sections={layout?.sections ?? []}
            without={[...staged, ...facts]}
            done={done}
          />
          {logged && backs.map((b) => <Linked key={b.key} schema={schema} back={b} id={id} name={name} />)}
        </div>
        <div className="min-w-0 max-[900px]:order-first">
          {logged && diary ? (
            <>
              <LogLine about={[{ type: type.key, id: Number(id) }]} diary={diary.key} done={done} />
              <Timeline type={type} id={id} diary={diary} done={done} />
            </>
          ) : (
            <>
              <div className="mb-3 grid gap-3">
                {backs.map((b) => (
                  <Linked key={b.key} schema={schema} back={b} id={id} name={name} />
                ))}
              </div>
              {type.written && <Timeline type={type} id={id} diary={diary} done={done} />}
            </>
          )}
        </div>
        {beside && <PagePanels type={type} id={id} panels={r.panels} onPick={setPicked} />}
      </div>
      {laying && (
        <LayoutDrawer
          type={type}
          now={r.layout ?? { first: facts, sections: [], lists: backs.map((b) => b.key) }}
          onTry={setTried}
          onClose={() => setLaying(false)}
        />
      )}
      {changing && (
        <RecordForm
          type={type}
          id={id}
          names={Object.fromEntries(r.fields.filter((f) => f.to).map((f) => [f.key, f.text]))}
          onClose={() => setChanging(false)}
          onDone={() => setChanging(false)}
        />
      )}
      {merging && <MergeDialog type={type} id={id} name={name} onClose={() => setMerging(false)} />}
      <PanelBehind picked={picked} onClose={() => setPicked(undefined)} />
    </>
  );
}
