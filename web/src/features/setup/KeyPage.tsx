import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { api, ask } from "../../api/client";
import { Beak } from "../../ui/Beak";
import { FormTrouble, NewPasswordField, useSend } from "../../ui/form";
import { Trouble } from "../../ui/Say";
import { useArrival } from "../../ui/useArrival";
import { keyOfAddress } from "./keyOfAddress";

/** Where an invitation, or the way to another password, leads: one chooses a password, and is signed in. */
export function KeyPage() {
  const [key] = useState(keyOfAddress);
  const client = useQueryClient();
  const go = useNavigate();
  const form = useForm({ defaultValues: { password: "" } });
  const whose = useQuery({
    queryKey: ["key", key],
    retry: false,
    queryFn: () => ask(api.POST("/api/keys/look", { body: { key } })),
  });
  const { submit, busy } = useSend(
    form,
    ({ password }) => ask(api.POST("/api/keys/take", { body: { key, password } })),
    async () => {
      client.clear();
      await go("/", { replace: true });
    },
  );
  const who = whose.data;
  useArrival("/key");
  return (
    <main id="content" className="mx-auto flex min-h-screen w-full max-w-[420px] flex-col justify-center px-5 py-8">
      <div className="mb-6 flex items-center gap-3">
        <Beak size={36} />
        <span className="title text-2xl">Uzzel</span>
      </div>
      {whose.error && (
        <>
          <h1 className="title mb-3 text-2xl">This address opens nothing</h1>
          <Trouble error={whose.error} />
          <p className="mt-3">
            <a className="link" href="/">
              Sign in
            </a>
          </p>
        </>
      )}
      {who && (
        <form onSubmit={submit}>
          <h1 className="title mb-2 text-2xl">{who.kind === "reset" ? "Another password" : `Welcome, ${who.name}`}</h1>
          <p className="mb-5 text-ink2">
            {who.kind === "reset"
              ? `Choose a new password for ${who.email}.`
              : `${who.organisation} has invited you. Choose a password; you sign in with ${who.email}.`}
          </p>
          <input type="hidden" autoComplete="username" value={who.email} readOnly />
          <NewPasswordField form={form} name="password" />
          <FormTrouble form={form} />
          <button type="submit" className="btn btn-main mt-2" disabled={busy}>
            Sign in
          </button>
        </form>
      )}
    </main>
  );
}
