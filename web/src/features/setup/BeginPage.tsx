import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { api, ask, type Me, type Schemas } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { Beak } from "../../ui/Beak";
import { FormTrouble, NewPasswordField, TextField, useSend } from "../../ui/form";
import { Trouble } from "../../ui/Say";
import { useArrival } from "../../ui/useArrival";
import { CompanyStep } from "./CompanyStep";
import { keyOfAddress } from "./keyOfAddress";
import { WordsStep } from "./WordsStep";

const steps = [
  { key: "organisation", label: "Your organisation" },
  { key: "administrator", label: "The first administrator" },
  { key: "begin", label: "What to begin with" },
  { key: "words", label: "What you call things" },
];

/** The set-up of an empty server, in four steps; each can be left, and gone on with at the same address. */
export function BeginPage({ me }: { me?: Me }) {
  const [key] = useState(keyOfAddress);
  const [back, setBack] = useState(false);
  const client = useQueryClient();
  const setUp = useQuery({
    queryKey: ["set-up", key],
    enabled: !me,
    retry: false,
    queryFn: () => ask(api.POST("/api/setup", { body: { key } })),
  });
  const now = me ? me.setUp : back ? "organisation" : setUp.data?.step;
  useArrival(`/begin ${now ?? ""}`);
  const next = () => {
    setBack(false);
    return Promise.all([
      client.invalidateQueries({ queryKey: ["set-up"] }),
      client.invalidateQueries({ queryKey: ["schema"] }),
      client.invalidateQueries({ queryKey: ["me"] }),
    ]);
  };
  return (
    <main id="content" className="flex min-h-screen max-md:flex-col">
      <div className="flex w-[300px] shrink-0 flex-col bg-[#191a1f] p-8 text-[#e9e4d8] max-md:w-full max-md:p-5">
        <div className="mb-10 flex items-center gap-3 max-md:mb-4">
          <Beak size={36} />
          <span className="title text-2xl">Uzzel</span>
        </div>
        <ol aria-label="Steps of the set-up">
          {steps.map((s, i) => {
            const at = steps.findIndex((x) => x.key === now);
            return (
              <li
                key={s.key}
                aria-current={s.key === now ? "step" : undefined}
                className={`relative mb-4 flex gap-3 ${i === at ? "font-semibold text-white" : i < at ? "text-[#e9e4d8]" : "text-[#a19c90]"}`}
              >
                <span aria-hidden className="w-5 text-[#f0a30f]">
                  {i < at ? "✓" : i === at ? "▸" : ""}
                </span>
                {s.label}
                {i < at && <span className="sr-only">, done</span>}
              </li>
            );
          })}
        </ol>
        <p className="mt-auto text-[13px] text-[#a19c90] max-md:hidden">
          What is done is kept. You can leave, and go on here later.
        </p>
      </div>
      <div className="flex flex-1 flex-col justify-center px-14 py-8 max-md:px-5">
        <div className="w-full max-w-[620px]">
          {!me && setUp.error && <Closed error={setUp.error} />}
          {now === "organisation" && setUp.data && (
            <CompanyStep key="company" setUp={setUp.data} secret={key} onDone={next} />
          )}
          {now === "administrator" && <AdministratorStep secret={key} onBack={() => setBack(true)} onDone={next} />}
          {me && now === "begin" && <BeginStep onDone={next} />}
          {me && now === "words" && <AtWords me={me} onDone={next} />}
          {me && !now && <Ready />}
        </div>
      </div>
    </main>
  );
}

function Closed({ error }: { error: unknown }) {
  return (
    <>
      <h1 className="title mb-3 text-2xl">This address opens nothing</h1>
      <Trouble error={error} />
      <p className="mt-3 text-ink2">
        If Uzzel is set up already,{" "}
        <a className="link" href="/">
          sign in
        </a>
        .
      </p>
    </>
  );
}

function AdministratorStep({
  secret,
  onBack,
  onDone,
}: {
  secret: string;
  onBack: () => void;
  onDone: () => Promise<unknown>;
}) {
  const client = useQueryClient();
  const form = useForm({ defaultValues: { name: "", email: "", password: "" } });
  const { submit, busy } = useSend(
    form,
    (values) => ask(api.POST("/api/setup/administrator", { body: { key: secret, ...values } })),
    async () => {
      await client.resetQueries({ queryKey: ["me"] });
      await onDone();
    },
  );
  return (
    <form onSubmit={submit}>
      <h1 className="title mb-2 text-2xl">The first administrator</h1>
      <p className="mb-5 text-ink2">You, most likely. Others are invited afterwards.</p>
      <TextField form={form} name="name" label="Name" autoComplete="name" maxLength={200} />
      <TextField form={form} name="email" label="E-mail" type="email" autoComplete="username" maxLength={254} />
      <NewPasswordField form={form} name="password" />
      <FormTrouble form={form} />
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn btn-quiet" onClick={onBack}>
          Back
        </button>
        <button type="submit" className="btn btn-main" disabled={busy}>
          Go on
        </button>
      </div>
    </form>
  );
}

const ways: { with: Schemas["Setup-beginRequest"]["with"]; label: string; note: string }[] = [
  {
    with: "files",
    label: "Our own records, from files",
    note: "Customers, contacts, deals and activities as CSV, from whatever you use now. You choose the files when the set-up is done.",
  },
  {
    with: "demo",
    label: "The demo company, to look around in",
    note: "420 customers, 2,600 deals and 14,000 activities of an invented company, with reports and dashboards. For your own records you begin again with an empty file.",
  },
  { with: "nothing", label: "Nothing yet", note: "Records are added one by one, or brought in later." },
];

function BeginStep({ onDone }: { onDone: () => Promise<unknown> }) {
  const form = useForm<{ with: (typeof ways)[number]["with"] }>({ defaultValues: { with: "files" } });
  const { submit, busy } = useSend(
    form,
    (body) => {
      if (body.with === "files") sessionStorage.setItem("begin with files", "yes");
      return ask(api.PUT("/api/setup/begin", { body }));
    },
    () => void onDone(),
  );
  return (
    <form onSubmit={submit}>
      <h1 className="title mb-4 text-2xl">What to begin with</h1>
      <fieldset>
        <legend className="sr-only">Begin with</legend>
        {ways.map((w) => (
          <label
            key={w.with}
            className="mb-2 flex cursor-pointer gap-3 rounded-md border border-line p-3 hover:bg-sunk has-checked:border-[var(--amber)] has-checked:bg-amber-soft"
          >
            <input type="radio" className="mt-1" value={w.with} {...form.register("with")} />
            <span>
              <span className="block font-semibold">{w.label}</span>
              <span className="block text-[13px] text-ink2">{w.note}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <FormTrouble form={form} />
      <button type="submit" className="btn btn-main mt-3" disabled={busy}>
        {busy ? "Making it ready …" : "Go on"}
      </button>
    </form>
  );
}

function AtWords({ me, onDone }: { me: Me; onDone: () => Promise<unknown> }) {
  const schema = useSchema();
  if (!schema) return null;
  return <WordsStep types={schema.types} organisation={me.organisation} onDone={onDone} />;
}

function Ready() {
  const go = useNavigate();
  const files = sessionStorage.getItem("begin with files") === "yes";
  return (
    <>
      <h1 className="title mb-2 text-2xl">Uzzel is ready</h1>
      <p className="mb-5 text-ink2">
        {files ? "Now for your records." : "Begin with a report, or invite the people you work with."}
      </p>
      <div className="flex gap-2">
        {files && (
          <button type="button" className="btn btn-main" onClick={() => go("/bring-in")}>
            Bring in records
          </button>
        )}
        <button type="button" className={files ? "btn" : "btn btn-main"} onClick={() => go("/reports/new")}>
          A first report
        </button>
        <button type="button" className="btn" onClick={() => go("/people")}>
          Invite people
        </button>
      </div>
    </>
  );
}
