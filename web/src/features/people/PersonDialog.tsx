import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { FormEnd } from "../../ui/FormEnd";
import { SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { type Role, roles } from "./roles";
import { TeamField } from "./TeamField";

/** Changes someone's name, address, team or role. */
export function PersonDialog({
  person: p,
  teams,
  onClose,
  onDone,
}: {
  person: Schemas["PersonBody"];
  teams: string[];
  onClose: () => void;
  onDone: () => void;
}) {
  const form = useForm({
    defaultValues: { name: p.name, email: p.email, team: p.team, role: (p.role || "reader") as Role },
  });
  const { submit, busy } = useSend(
    form,
    (body) => ask(api.PUT("/api/people/{id}", { params: { path: { id: p.id } }, body })),
    () => {
      toast("Saved");
      onDone();
    },
  );
  return (
    <Modal title={`Change ${p.name}`} onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="name" label="Name" maxLength={200} />
        <TextField form={form} name="email" label="E-mail" type="email" maxLength={254} />
        <TeamField form={form} name="team" teams={teams} />
        {p.role && <SelectField form={form} name="role" label="Role" options={roles} />}
        <FormEnd form={form} off={busy} action="Save" />
      </form>
    </Modal>
  );
}
