import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask, fetched, Refused } from "../../api/client";
import { Beak } from "../../ui/Beak";
import { FormTrouble, TextField, useSend } from "../../ui/form";

const signIn = (who: { email: string; password: string; code: string }) => fetched("/api/session", JSON.stringify(who));

export function SignIn() {
  const client = useQueryClient();
  const welcome = useQuery({ queryKey: ["welcome"], queryFn: () => ask(api.GET("/api/welcome")) }).data;
  const form = useForm({ defaultValues: { email: "", password: "", code: "" } });
  // Whether a code is asked for besides the password, which the server says.
  const [second, setSecond] = useState(false);
  const send = (who: Parameters<typeof signIn>[0]) =>
    signIn(who).catch((e) => {
      if (e instanceof Refused && e.problem.errors?.some((x) => x.pointer === "/code")) setSecond(true);
      throw e;
    });
  const { submit, busy } = useSend(form, send, () => client.resetQueries({ queryKey: ["me"] }));

  return (
    <main className="flex min-h-screen max-md:flex-col">
      <div className="flex w-[44%] flex-col justify-between bg-[#191a1f] p-12 text-[#e9e4d8] max-md:w-full max-md:p-6">
        <div className="flex items-center gap-3">
          <Beak size={44} />
          <span className="title text-3xl">Uzzel</span>
        </div>
        <p className="font-[family-name:var(--font-title)] text-[28px] leading-[44px]">
          <U>Deals</U> of <U>my team</U> expected to close <U>this quarter</U>, where <U>value is over €20,000</U>, by{" "}
          <U>stage</U>, as <U>a funnel</U>.
        </p>
        <p className="text-[#a19c90]">{welcome?.organisation}</p>
      </div>
      <div className="flex flex-1 flex-col justify-center px-14 py-8 max-md:px-6">
        <form onSubmit={submit} className="w-full max-w-[420px]">
          <h1 className="title mb-5 text-2xl">Sign in</h1>
          {welcome?.organisation === "" && (
            <p className="mb-4 text-ink2">
              Uzzel is not set up yet. Open the address that the server printed when it was started.
            </p>
          )}
          <TextField form={form} name="email" label="E-mail" type="email" autoComplete="username" required />
          <TextField
            form={form}
            name="password"
            label="Password"
            type="password"
            autoComplete="current-password"
            required
          />
          {second && (
            <TextField
              form={form}
              name="code"
              label="Code"
              autoComplete="one-time-code"
              help="The six digits that your app shows now, or a recovery code."
            />
          )}
          <FormTrouble form={form} />
          <button type="submit" className="btn btn-main mt-2" disabled={busy}>
            Sign in
          </button>
        </form>
        {welcome && welcome.people.length > 0 && (
          <section className="mt-8 max-w-[560px]" aria-label="Demo people">
            <p className="mb-2 text-ink2">
              This is the demo. Take any of its people; they all have the password{" "}
              <strong className="text-ink">{welcome.password}</strong>.
            </p>
            <ul className="grid grid-cols-2 gap-x-4">
              {welcome.people.map((p) => (
                <li key={p.email}>
                  <button
                    type="button"
                    className="pick"
                    onClick={() => {
                      form.setValue("email", p.email);
                      form.setValue("password", welcome.password);
                    }}
                  >
                    <span>{p.name}</span>
                    <span className="text-xs text-ink3">
                      {p.team} · {p.role}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </main>
  );
}

function U({ children }: { children: React.ReactNode }) {
  return <span className="border-b-2 border-[#f0a30f] font-semibold text-white">{children}</span>;
}
