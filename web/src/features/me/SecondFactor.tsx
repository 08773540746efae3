import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { anew } from "../../api/keys";
import { FormTrouble, TextField, useSend } from "../../ui/form";
import { Trouble } from "../../ui/Say";

/** Signing in with a code besides the password: set up in three steps, with codes for when the app is lost. */
export function SecondFactor({ must }: { must?: boolean }) {
  const client = useQueryClient();
  const now = useQuery({ queryKey: ["second factor"], queryFn: () => ask(api.GET("/api/me/second-factor")) });
  const [secret, setSecret] = useState<Schemas["FactorBody"]>();
  const [codes, setCodes] = useState<string[]>();
  const done = () => {
    setCodes(undefined);
    setSecret(undefined);
    anew(client, "second factor", "me", "my sessions");
  };
  if (!now.data) return <Trouble error={now.error} />;
  if (codes)
    return (
      <div className="max-w-[460px]">
        <p className="mb-2">
          <strong>Keep these codes where you find them without your phone.</strong> Each lets you in once, and they are
          shown only now.
        </p>
        <ul className="sheet mb-3 grid grid-cols-2 gap-x-6 px-4 py-2 font-mono" aria-label="Recovery codes">
          {codes.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        <button type="button" className="btn btn-main" onClick={done}>
          I have kept them
        </button>
      </div>
    );
  if (secret) return <Confirm secret={secret} onConfirmed={setCodes} />;
  if (now.data.on)
    return (
      <>
        <p className="mb-2 text-ink2">
          You sign in with a code that your app shows. {now.data.left} recovery codes are left.
        </p>
        <WithPassword
          action="Turn it off"
          send={(password) => ask(api.DELETE("/api/me/second-factor", { body: { password } }))}
          done={() => {
            toast("You sign in with your password alone.");
            done();
          }}
        />
      </>
    );
  return (
    <>
      <p className="mb-2 max-w-[60ch] text-ink2">
        {must
          ? "Here everyone signs in with a code besides the password. It takes an app on your phone that shows codes."
          : "Besides your password, a code that an app on your phone shows. Who has your password alone does not get in."}
      </p>
      <WithPassword
        action="Set it up"
        send={(password) => ask(api.POST("/api/me/second-factor", { body: { password } }))}
        done={setSecret}
      />
    </>
  );
}

function WithPassword<R>({
  action,
  send,
  done,
}: {
  action: string;
  send: (password: string) => Promise<R>;
  done: (r: R) => void;
}) {
  const form = useForm({ defaultValues: { password: "" } });
  const { submit, busy } = useSend(form, ({ password }) => send(password), done);
  return (
    <form onSubmit={submit} className="max-w-[420px]">
      <TextField
        form={form}
        name="password"
        label="Your password"
        type="password"
        autoComplete="current-password"
        required
      />
      <FormTrouble form={form} />
      <button type="submit" className="btn" disabled={busy}>
        {action}
      </button>
    </form>
  );
}

function Confirm({ secret, onConfirmed }: { secret: Schemas["FactorBody"]; onConfirmed: (codes: string[]) => void }) {
  const form = useForm({ defaultValues: { code: "" } });
  const { submit, busy } = useSend(
    form,
    (body) => ask(api.PUT("/api/me/second-factor", { body })),
    ({ codes }) => onConfirmed(codes),
  );
  return (
    <form onSubmit={submit} className="flex flex-wrap gap-6">
      <img
        src={secret.picture}
        alt="The code to be taken with the app"
        width={200}
        height={200}
        className="rounded bg-white p-2"
      />
      <div className="w-[320px] max-w-full">
        <p className="mb-3">
          Take this picture with the app, or type <code className="break-all font-mono">{secret.secret}</code> into it.
        </p>
        <TextField
          form={form}
          name="code"
          label="The code that it shows now"
          autoComplete="one-time-code"
          inputMode="numeric"
        />
        <FormTrouble form={form} />
        <button type="submit" className="btn btn-main" disabled={busy}>
          Sign in with it from now on
        </button>
      </div>
    </form>
  );
}
