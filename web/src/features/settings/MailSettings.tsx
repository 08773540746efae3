import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { anew } from "../../api/keys";
import { FormTrouble, SelectField, TextField, useSend } from "../../ui/form";
import { Trouble } from "../../ui/Say";

const ways = [
  { value: "starttls", label: "sealed after the greeting (mostly port 587)" },
  { value: "tls", label: "sealed from the start (mostly port 465)" },
  { value: "plain", label: "in the open, for a server on this machine" },
] as const;

/** The server that mail is sent through. It is tried before it holds. */
export function MailSettings() {
  const now = useQuery({ queryKey: ["mail"], queryFn: () => ask(api.GET("/api/settings/mail")) });
  if (!now.data) return <Trouble error={now.error} />;
  return <Form key={now.data.version} now={now.data} />;
}

function Form({ now }: { now: Schemas["MailBody"] }) {
  const client = useQueryClient();
  const form = useForm({
    defaultValues: {
      host: now.host,
      port: now.port || 587,
      security: now.security || ("starttls" as NonNullable<typeof now.security>),
      user: now.user ?? "",
      password: "",
      from: now.from ?? "",
      address: now.address || location.origin,
    },
  });
  const { submit, busy } = useSend(
    form,
    (body) => ask(api.PUT("/api/settings/mail", { body: { ...body, port: Number(body.port), version: now.version } })),
    () => {
      toast(form.getValues("host") ? "It works: a mail is on its way to you." : "Nothing is mailed from now on.");
      anew(client, "mail", "setting changes");
    },
  );
  return (
    <form onSubmit={submit} className="sheet grid max-w-[760px] gap-x-4 p-4 md:grid-cols-2">
      <TextField
        form={form}
        name="host"
        label="Server"
        placeholder="mail.example.org"
        help="Empty: nothing is mailed."
      />
      <TextField form={form} name="port" label="Port" type="number" />
      <SelectField form={form} name="security" label="The connection is" options={ways} />
      <TextField form={form} name="from" label="Mails are from" type="email" />
      <TextField form={form} name="user" label="User" autoComplete="off" help="Empty where the server asks for none." />
      <TextField
        form={form}
        name="password"
        label="Password"
        type="password"
        autoComplete="new-password"
        help={now.host && now.user ? "Left empty, it stays what it is." : undefined}
      />
      <TextField form={form} name="address" label="Where people reach this" type="url" />
      <div className="md:col-span-2">
        <FormTrouble form={form} />
        <button type="submit" className="btn btn-main mt-2" disabled={busy}>
          {busy ? "Trying …" : "Try it, and save"}
        </button>
      </div>
    </form>
  );
}
