import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask } from "../../api/client";
import { anew } from "../../api/keys";
import { copyText } from "../../ui/copyText";
import { FormEnd } from "../../ui/FormEnd";
import { moment } from "../../ui/figures";
import { CheckField, SelectField, TextField, useSend } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";

const scopes = [
  { key: "read-reports", label: "read reports and dashboards, ask questions" },
  { key: "read-records", label: "read records" },
  { key: "write-records", label: "make, change and delete records" },
  { key: "administer", label: "look after people and settings" },
] as const;

const terms = [
  { value: 30, label: "30 days" },
  { value: 90, label: "90 days" },
  { value: 366, label: "a year" },
];

/** One's own tokens, with what each may do and when it was used last. */
export function Tokens({ administers }: { administers: boolean }) {
  const client = useQueryClient();
  const tokens = useQuery({ queryKey: ["my tokens"], queryFn: () => ask(api.GET("/api/me/tokens")) });
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<string>();
  const drop = useMutation({
    mutationFn: (id: number) => ask(api.DELETE("/api/me/tokens/{id}", { params: { path: { id } } })),
    onError: tell,
    onSettled: () => anew(client, "my tokens"),
  });
  if (!tokens.data) return <Trouble error={tokens.error} />;
  return (
    <>
      {tokens.data.length > 0 && (
        <ul className="sheet mb-3 max-w-[720px]" aria-label="Tokens">
          {tokens.data.map((t) => (
            <li key={t.id} className="flex items-center gap-3 border-line border-b px-4 py-2 last:border-0">
              <span className="min-w-0 flex-1">
                <span className="block truncate font-semibold">{t.name}</span>
                <span className="block text-[13px] text-ink2">
                  {t.scopes.map((s) => scopes.find((x) => x.key === s)?.label ?? s).join("; ")}
                </span>
              </span>
              <span className="text-right text-[13px] text-ink2">
                {t.used ? `used ${moment(t.used)}` : "never used"}
                <span className="block">until {moment(t.expires)}</span>
              </span>
              <button type="button" className="btn" disabled={drop.isPending} onClick={() => drop.mutate(t.id)}>
                Take away
              </button>
            </li>
          ))}
        </ul>
      )}
      <button type="button" className="btn" onClick={() => setMaking(true)}>
        New token
      </button>
      {making && (
        <NewToken
          administers={administers}
          onClose={() => setMaking(false)}
          onDone={(token) => {
            setMaking(false);
            setMade(token);
            anew(client, "my tokens");
          }}
        />
      )}
      {made && (
        <Modal title="Your token" width={560} onClose={() => setMade(undefined)}>
          <p className="mb-3 text-ink2">It is shown only here. Keep it where your program finds it.</p>
          <div className="flex gap-2">
            <input className="input font-mono text-[13px]" aria-label="Token" readOnly value={made} />
            <button type="button" className="btn" onClick={() => void copyText(made)}>
              Copy
            </button>
          </div>
          <div className="mt-4 flex justify-end">
            <Dialog.Close className="btn btn-main">Done</Dialog.Close>
          </div>
        </Modal>
      )}
    </>
  );
}

function NewToken({
  administers,
  onClose,
  onDone,
}: {
  administers: boolean;
  onClose: () => void;
  onDone: (token: string) => void;
}) {
  const form = useForm({
    defaultValues: {
      name: "",
      days: 90,
      may: { "read-reports": true, "read-records": false, "write-records": false, administer: false },
    },
  });
  const { submit, busy } = useSend(
    form,
    ({ name, days, may }) =>
      ask(
        api.POST("/api/me/tokens", {
          body: { name, days, scopes: scopes.filter((s) => may[s.key]).map((s) => s.key) },
        }),
      ),
    (t) => onDone(t.token),
  );
  return (
    <Modal title="New token" onClose={onClose}>
      <form onSubmit={submit}>
        <TextField form={form} name="name" label="What it is for" maxLength={100} placeholder="The nightly import" />
        <fieldset className="mb-3 space-y-1.5">
          <legend className="mb-1 font-semibold">It may</legend>
          {scopes
            .filter((s) => administers || s.key !== "administer")
            .map((s) => (
              <CheckField key={s.key} form={form} name={`may.${s.key}`} label={s.label} />
            ))}
        </fieldset>
        <SelectField form={form} name="days" label="It holds for" options={terms} />
        <FormEnd form={form} off={busy} action="Make" />
      </form>
    </Modal>
  );
}
