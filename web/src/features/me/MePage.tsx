import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { FigureChoices } from "../../ui/FigureChoices";
import { moment } from "../../ui/figures";
import { FormTrouble, NewPasswordField, TextField, useSend } from "../../ui/form";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { browserOf } from "./browserOf";
import { CalendarAddress } from "./CalendarAddress";
import { SecondFactor } from "./SecondFactor";
import { Tokens } from "./Tokens";

/** One's own page: who one is here, the password, and where one is signed in. */
export function MePage() {
  const me = useMe().data;
  if (!me) return null;
  return (
    <>
      <h1 className="title mb-1 text-[26px]">{me.name}</h1>
      <p className="text-ink2">
        {[me.team, me.role, me.organisation].filter(Boolean).join(" · ")}. An administrator changes name, team and role.
      </p>
      <h2 className="title mt-6 mb-2 text-[17px]">Password</h2>
      {me.demo ? <p className="text-ink2">The people of the demo share one password.</p> : <Password />}
      {!me.demo && (
        <>
          <h2 className="title mt-6 mb-2 text-[17px]">A second thing to sign in with</h2>
          <SecondFactor />
        </>
      )}
      <h2 className="title mt-6 mb-2 text-[17px]">How figures and days are written for me</h2>
      <OwnFigures />
      <h2 className="title mt-6 mb-2 text-[17px]">Where I am signed in</h2>
      <Sessions />
      <h2 className="title mt-6 mb-2 text-[17px]">In my calendar and address book</h2>
      <CalendarAddress />
      <h2 className="title mt-6 mb-1 text-[17px]">Tokens for programs</h2>
      <p className="mb-3 max-w-[70ch] text-ink2">
        With a token a program does what you may do, as far as you say here. Take it away, and it opens nothing more.
      </p>
      <Tokens administers={me.role === "administrator"} />
    </>
  );
}

function Password() {
  const client = useQueryClient();
  const form = useForm({ defaultValues: { was: "", password: "" } });
  const { submit, busy } = useSend(
    form,
    (body) => ask(api.PUT("/api/me/password", { body })),
    () => {
      form.reset();
      anew(client, "my sessions");
      toast("From now on you sign in with the new password. Everywhere else you are signed out.");
    },
  );
  return (
    <form onSubmit={submit} className="max-w-[420px]">
      <TextField form={form} name="was" label="Password now" type="password" autoComplete="current-password" required />
      <NewPasswordField form={form} name="password" label="New password" />
      <FormTrouble form={form} />
      <button type="submit" className="btn btn-main" disabled={busy}>
        Change password
      </button>
    </form>
  );
}

/** How numbers, amounts and days are written for oneself, where that is not as for everyone. */
function OwnFigures() {
  const client = useQueryClient();
  const figures = useQuery({ queryKey: ["figures"], queryFn: () => ask(api.GET("/api/settings/figures")) });
  const { tag = "", days = "", own = "", ownDays = "", ways = [], dayWays = [] } = figures.data ?? {};
  const [set] = useDo(
    (to: { tag: string; days: string }) => ask(api.PUT("/api/me/figures", { body: to })),
    () => {
      toast("Saved");
      void client.invalidateQueries();
    },
  );
  if (!figures.data) return <Trouble error={figures.error} />;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <FigureChoices
        ways={ways}
        dayWays={dayWays}
        tag={own}
        days={ownDays}
        everyones={{ tag, days }}
        onChange={(to) => set({ tag: to.tag ?? own, days: to.days ?? (ownDays || days) })}
      />
    </div>
  );
}

function Sessions() {
  const client = useQueryClient();
  const sessions = useQuery({ queryKey: ["my sessions"], queryFn: () => ask(api.GET("/api/me/sessions")) });
  const end = useMutation({
    mutationFn: () => ask(api.DELETE("/api/me/sessions")),
    onSuccess: () => toast("Signed out everywhere else."),
    onError: tell,
    onSettled: () => anew(client, "my sessions"),
  });
  if (!sessions.data) return <Trouble error={sessions.error} />;
  return (
    <>
      <ul className="sheet max-w-[560px]" aria-label="Where I am signed in">
        {sessions.data.map((s) => (
          <li key={s.name || s.began} className="flex items-center gap-3 border-line border-b px-4 py-2 last:border-0">
            <span className="mr-auto">{browserOf(s.agent)}</span>
            <span className="text-[13px] text-ink2">{s.here ? "here" : s.began ? `since ${moment(s.began)}` : ""}</span>
          </li>
        ))}
      </ul>
      {sessions.data.length > 1 && (
        <button type="button" className="btn mt-3" disabled={end.isPending} onClick={() => end.mutate()}>
          Sign out everywhere else
        </button>
      )}
    </>
  );
}
