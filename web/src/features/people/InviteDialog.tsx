import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { count } from "../../ui/figures";
import { LongField, SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Seg } from "../../ui/Seg";
import { invitees } from "./invitees";
import { type Role, roles } from "./roles";
import { TeamField } from "./TeamField";

/** Invites one person, or many from lines that are pasted. */
export function InviteDialog({
  first,
  teams,
  onClose,
  onDone,
}: {
  first: Partial<Schemas["PersonBody"]>;
  teams: string[];
  onClose: () => void;
  onDone: (made: Schemas["InvitationBody"][]) => void;
}) {
  const [many, setMany] = useState(false);
  const form = useForm({
    defaultValues: {
      name: first.name ?? "",
      email: first.email ?? "",
      team: first.team ?? "",
      role: (first.role || "reader") as Role,
      lines: "",
    },
  });
  const { lines, role } = form.watch();
  const read = invitees(lines, role);
  const { submit, busy } = useSend(
    form,
    ({ lines: _, ...one }) => ask(api.POST("/api/people", { body: { people: many ? read.people : [one] } })),
    onDone,
    // What is refused of the only person is said beside that person's field.
    many ? "" : "/people/0",
  );
  return (
    <Modal title="Invite people" width={520} onClose={onClose}>
      <form onSubmit={submit}>
        <div className="mb-4">
          <Seg
            label="How many"
            value={many ? "many" : "one"}
            options={[
              ["one", "One"],
              ["many", "Many"],
            ]}
            onChange={(v) => setMany(v === "many")}
          />
        </div>
        {many ? (
          <>
            <LongField
              form={form}
              name="lines"
              label="One person a line"
              rows={6}
              placeholder={
                "Wila Ness, wila@brinehaven.example, Inland\nRui Corvel, rui@brinehaven.example, Inland, composer"
              }
              help="Name, e-mail, team, role, as CSV or copied from a spreadsheet. Team and role can be left out."
            />
            <p className="-mt-1 mb-3 text-[13px]" aria-live="polite">
              {count(read.people.length)} {read.people.length === 1 ? "person" : "people"}
              {read.wrong.length > 0 && (
                <span className="text-rust">
                  {" "}
                  · no e-mail address on line {read.wrong.slice(0, 5).join(", ")}
                  {read.wrong.length > 5 && ` and ${read.wrong.length - 5} more`}
                </span>
              )}
            </p>
          </>
        ) : (
          <>
            <TextField form={form} name="name" label="Name" maxLength={200} />
            <TextField form={form} name="email" label="E-mail" type="email" maxLength={254} />
            <TeamField form={form} name="team" teams={teams} placeholder="None" />
          </>
        )}
        <SelectField form={form} name="role" label={many ? "Role of those who have none" : "Role"} options={roles} />
        <FormEnd
          form={form}
          off={busy || (many && (read.people.length === 0 || read.wrong.length > 0))}
          action="Invite"
        />
      </form>
    </Modal>
  );
}
