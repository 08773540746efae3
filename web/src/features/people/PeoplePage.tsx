import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { may, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { seeAs } from "../../api/seeAs";
import { Menu, MenuItem } from "../../ui/Menu";
import { Empty, Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { InviteDialog } from "./InviteDialog";
import { KeyDialog } from "./KeyDialog";
import { LeaveDialog } from "./LeaveDialog";
import { PersonDialog } from "./PersonDialog";
import { RightsDialog } from "./RightsDialog";

type Person = Schemas["PersonBody"];
type Invitation = Schemas["InvitationBody"];

const states: Record<Person["state"], string> = {
  active: "signs in",
  invited: "invited",
  without: "no account",
  left: "left",
};

/** The organisation's people, as administrators look after them. */
export function PeoplePage() {
  const me = useMe().data;
  const client = useQueryClient();
  const people = useQuery({
    queryKey: ["people"],
    enabled: may(me, "people"),
    queryFn: () => ask(api.GET("/api/people")),
  });
  const [search, setSearch] = useState("");
  const [inviting, setInviting] = useState<Partial<Person>>();
  const [changing, setChanging] = useState<Person>();
  const [leaving, setLeaving] = useState<Person>();
  const [giving, setGiving] = useState(false);
  const [keys, setKeys] = useState<Invitation[]>();
  const [lost] = useDo(
    (p: Person) => ask(api.DELETE("/api/people/{id}/second-factor", { params: { path: { id: p.id } } })),
    (_, p) => toast(`${p.name} signs in with the password alone, until a code is set up again.`),
  );
  const again = useMutation({
    mutationFn: (p: Person) => ask(api.POST("/api/people/{id}/key", { params: { path: { id: p.id } } })),
    onSuccess: (i) => setKeys([i]),
    onError: tell,
  });
  if (!me) return null;
  if (!may(me, "people"))
    return <Empty title="People are looked after by administrators">Ask one of them for a change.</Empty>;
  const administers = me.role === "administrator";
  const done = () => anew(client, "people", "subjects");
  const all = people.data ?? [];
  const teams = [...new Set(all.map((p) => p.team).filter(Boolean))];
  const list = all.filter((p) => `${p.name} ${p.email} ${p.team}`.toLowerCase().includes(search.trim().toLowerCase()));
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">People</h1>
        <input
          className="input !w-56"
          aria-label="Find people"
          placeholder="Find by name or team"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        {administers && (
          <button type="button" className="btn" onClick={() => setGiving(true)}>
            Rights one by one
          </button>
        )}
        <button type="button" className="btn btn-main" onClick={() => setInviting({})}>
          Invite people
        </button>
      </div>
      <Trouble error={people.error} />
      {people.data && list.length === 0 && <Empty title="Nobody of this name">Look for less of it.</Empty>}
      {list.length > 0 && (
        <div className="sheet relative overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr className="border-ink border-b">
                {["Name", "E-mail", "Team", "Role", "State"].map((h) => (
                  <th key={h} className="th px-3 py-2 text-left">
                    {h}
                  </th>
                ))}
                <th className="w-10">
                  <span className="sr-only">More</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {list.map((p) => (
                <tr
                  key={p.id}
                  className={`border-line border-b last:border-0 ${p.state === "left" ? "text-ink3" : ""}`}
                >
                  <th scope="row" className="px-3 py-1.5 text-left font-semibold">
                    {p.name}
                  </th>
                  <td className="px-3">{p.email}</td>
                  <td className="px-3">{p.team}</td>
                  <td className="px-3">{p.role}</td>
                  <td className="px-3">
                    {p.state === "invited" ? (
                      <span className="rounded bg-amber-soft px-1.5 py-0.5">invited</span>
                    ) : (
                      states[p.state]
                    )}
                  </td>
                  <td className="pr-2 text-right">
                    {(administers || (p.role !== "administrator" && p.id !== me.id)) && (
                      <Menu
                        label={`More to do with ${p.name}`}
                        className="btn btn-quiet !h-7 !px-2"
                        text="…"
                        width={224}
                      >
                        {p.state !== "left" && <MenuItem label="Change" onPick={() => setChanging(p)} />}
                        {(p.state === "without" || p.state === "left") && (
                          <MenuItem label="Invite" onPick={() => setInviting(p)} />
                        )}
                        {p.state === "invited" && (
                          <MenuItem label="Another invitation" onPick={() => again.mutate(p)} />
                        )}
                        {p.state === "active" && <MenuItem label="Another password…" onPick={() => again.mutate(p)} />}
                        {administers && p.state === "active" && p.id !== me.id && (
                          <MenuItem label="See what they see" onPick={() => seeAs(p.id)} />
                        )}
                        {administers && p.state === "active" && p.id !== me.id && (
                          <MenuItem label="Lost their second factor" onPick={() => lost(p)} />
                        )}
                        {p.state !== "left" && p.id !== me.id && (
                          <MenuItem label="Take off and hand over…" onPick={() => setLeaving(p)} />
                        )}
                      </Menu>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {inviting && (
        <InviteDialog
          first={inviting}
          teams={teams}
          onClose={() => setInviting(undefined)}
          onDone={(made) => {
            setInviting(undefined);
            setKeys(made);
            done();
          }}
        />
      )}
      {changing && (
        <PersonDialog
          person={changing}
          teams={teams}
          onClose={() => setChanging(undefined)}
          onDone={() => {
            setChanging(undefined);
            done();
          }}
        />
      )}
      {leaving && (
        <LeaveDialog
          person={leaving}
          others={all.filter((p) => p.id !== leaving.id && (p.state === "active" || p.state === "invited"))}
          onClose={() => setLeaving(undefined)}
          onDone={() => {
            setLeaving(undefined);
            done();
          }}
        />
      )}
      {giving && <RightsDialog onClose={() => setGiving(false)} />}
      {keys && <KeyDialog keys={keys} onClose={() => setKeys(undefined)} />}
    </>
  );
}
