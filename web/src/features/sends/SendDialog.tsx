import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask, type Brief, Refused, type Schemas } from "../../api/client";
import { useAnswer, useMe, useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { endsOfDays } from "../../fields/MomentPicker";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { Occasion } from "./Occasion";
import { Recipients } from "./Recipients";
import { begun, type Terms } from "./terms";

type Delivery = Schemas["DeliveryBody"];

/** Has a report or a dashboard sent: when, to whom, with what; and shows what they would get. */
export function SendDialog({
  kind,
  item,
  title,
  brief,
  delivery,
  onClose,
}: {
  kind: "report" | "board";
  item: number;
  title: string;
  /** Of a report, as it is kept. */
  brief?: Brief;
  /** The one that is changed. */
  delivery?: Delivery;
  onClose: () => void;
}) {
  const me = useMe().data;
  const client = useQueryClient();
  const [terms, setTerms] = useState<Terms | undefined>(delivery?.terms);
  const [name, setName] = useState(delivery?.title ?? title);
  const [shown, setShown] = useState(false);
  const answer = useAnswer(brief, 1).data;
  const mail = useQuery({ queryKey: ["mail"], queryFn: () => ask(api.GET("/api/settings/mail")) });
  const [refused, setRefused] = useState<Error>();
  const t = terms ?? (me && begun(me.id));
  const body = { kind, item, title: name, terms: t as Terms };
  const [keep, busy] = useDo(
    () =>
      delivery
        ? ask(
            api.PUT("/api/deliveries/{id}", {
              params: { path: { id: delivery.id } },
              body: { ...body, version: delivery.version },
            }),
          )
        : ask(api.POST("/api/deliveries", { body })),
    (d) => {
      anew(client, "deliveries");
      toast(`It is sent ${d.words}`);
      onClose();
    },
    setRefused,
  );
  if (!me || !t) return null;
  const change = (next: Terms) => {
    setRefused(undefined);
    setTerms(next);
  };
  const tick = (key: "mail" | "picture" | "pdf" | "xlsx", words: string, off?: boolean) => (
    <label key={key} className={`flex items-center gap-1.5 ${off ? "text-ink3" : ""}`}>
      <input
        type="checkbox"
        checked={!!t[key] && !off}
        disabled={off}
        onChange={(e) => change({ ...t, [key]: e.target.checked })}
      />
      {words}
    </label>
  );
  return (
    <Modal title={delivery ? "What is sent" : `Send “${title}”`} width={shown ? 1080 : 560} onClose={onClose}>
      <div className={shown ? "grid grid-cols-[520px_1fr] gap-5 max-lg:grid-cols-1" : ""}>
        <form
          className="space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <Occasion
            when={t.when}
            brief={brief}
            numbers={answer?.summaries ?? []}
            onChange={(when) => change({ ...t, when })}
          />
          <Recipients terms={t} onChange={change} />
          {brief && t.when.every && !brief.parts && (
            <label className="block">
              <span className="mb-1 block text-[13px] text-ink2">What is told</span>
              <select
                className="input !w-auto"
                value={t.since ?? ""}
                onChange={(e) => {
                  const { since: _, ...rest } = t;
                  change(e.target.value ? { ...rest, since: e.target.value } : rest);
                }}
              >
                <option value="">what the report shows</option>
                {endsOfDays.map(([word, words]) => (
                  <option key={word} value={word}>
                    what moved since {words}
                  </option>
                ))}
              </select>
            </label>
          )}
          <fieldset>
            <legend className="mb-1 text-[13px] text-ink2">By mail, with</legend>
            <div className="flex flex-wrap gap-x-4 gap-y-1">
              {tick("mail", "a mail")}
              {tick("picture", "the picture", !t.mail)}
              {tick("pdf", "pages (PDF)", !t.mail)}
              {kind === "report" && tick("xlsx", "a workbook (XLSX)", !t.mail || !!t.since)}
            </div>
            <p className="mt-1 text-[13px] text-ink2">
              It is told in the inbox here in any case. Each sees in it what they may see.
              {mail.data && !mail.data.host && " No server for mail is named yet, so that mails wait until one is."}
            </p>
          </fieldset>
          <label className="block">
            <span className="mb-1 block text-[13px] text-ink2">A word of yours in it</span>
            <textarea
              className="input min-h-14"
              maxLength={1000}
              value={t.note ?? ""}
              onChange={(e) => change({ ...t, note: e.target.value })}
            />
          </label>
          <label className="block">
            <span className="mb-1 block text-[13px] text-ink2">What it is called</span>
            <input className="input" value={name} maxLength={200} onChange={(e) => setName(e.target.value)} />
          </label>
          <Trouble error={refused instanceof Refused ? refused : undefined} />
          <div className="flex flex-wrap items-center gap-2">
            <button type="button" className="btn" aria-pressed={shown} onClick={() => setShown(!shown)}>
              {shown ? "Without the preview" : "Preview"}
            </button>
            <Link className="link mr-auto text-[13px]" to="/deliveries" onClick={onClose}>
              All that is sent
            </Link>
            <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
            <button type="submit" className="btn btn-main" disabled={busy}>
              {delivery ? "Save" : "Send it so"}
            </button>
          </div>
        </form>
        {shown && <Preview body={body} />}
      </div>
    </Modal>
  );
}

/** What a recipient would get. Through others' eyes only administrators look. */
function Preview({ body }: { body: Schemas["NewDeliveryBody"] }) {
  const me = useMe().data;
  const people = useSubjects().filter((s) => s.kind === "person");
  const [as, setAs] = useState(me?.id ?? 0);
  const preview = useQuery({
    queryKey: ["preview", "delivery", body, as],
    queryFn: () => ask(api.POST("/api/deliveries/preview", { body: { ...body, as } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const p = preview.data;
  return (
    <section aria-label="Preview" className="flex min-h-[480px] min-w-0 flex-col">
      {me?.role === "administrator" && (
        <label className="mb-2 flex items-center gap-2">
          <span className="text-ink2">As</span>
          <select
            className="input !w-auto"
            aria-label="Whose eyes it is seen through"
            value={as}
            onChange={(e) => setAs(Number(e.target.value))}
          >
            {people.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
          <span className="text-ink2">would get it</span>
        </label>
      )}
      <Trouble error={preview.error} />
      {p && !preview.error && (
        <>
          <p className="mb-1 truncate font-semibold" title={p.subject}>
            {p.subject}
          </p>
          <iframe
            title="The mail"
            sandbox=""
            srcDoc={p.page}
            className="min-h-[420px] flex-1 rounded border border-line bg-white"
            style={{ opacity: preview.isPlaceholderData ? 0.5 : 1 }}
          />
          {p.files.length > 0 && <p className="mt-1 text-[13px] text-ink2">With {p.files.join("; ")}</p>}
        </>
      )}
      {!p && preview.isPending && <p className="text-ink2">Writing it …</p>}
    </section>
  );
}
