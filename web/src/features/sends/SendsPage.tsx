import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { useMe, useReport } from "../../api/hooks";
import { anew } from "../../api/keys";
import { Menu, MenuItem } from "../../ui/Menu";
import { Empty, Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { useDo } from "../../ui/useDo";
import { SendDialog } from "./SendDialog";

type Delivery = Schemas["DeliveryBody"];
type Mail = Schemas["OutMailBody"];

/** What one has sent to people, and what became of each mail. */
export function SendsPage() {
  const me = useMe().data;
  const [params, setParams] = useSearchParams();
  const all = params.get("all") === "true";
  const open = Number(params.get("of") ?? 0);
  const list = useQuery({
    queryKey: ["deliveries", all],
    queryFn: () => ask(api.GET("/api/deliveries", { params: { query: all ? { all } : {} } })),
  });
  const [changing, setChanging] = useState<Delivery>();
  const set = (next: Record<string, string>) => setParams(next, { replace: true });
  const shown = list.data?.find((d) => d.id === open);
  return (
    <div className="max-w-[1100px]">
      <header className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="title mr-auto text-[26px]">What is sent</h1>
        {me?.role === "administrator" && (
          <Seg
            label="Whose"
            value={all ? "all" : "mine"}
            onChange={(v) => set(v === "all" ? { all: "true" } : {})}
            options={[
              ["mine", "Mine"],
              ["all", "Everyone’s"],
            ]}
          />
        )}
      </header>
      <Trouble error={list.error} />
      {list.data?.length === 0 && (
        <Empty title="Nothing is sent yet">
          “Send…”, in the menu of a report or a dashboard, has it sent by the clock, or when something happens in it.
        </Empty>
      )}
      <ul aria-label="Deliveries" className="space-y-2">
        {list.data?.map((d) => (
          <One
            key={d.id}
            d={d}
            all={all}
            open={open === d.id}
            onOpen={() => set({ ...(all ? { all: "true" } : {}), ...(open === d.id ? {} : { of: String(d.id) }) })}
            onChange={() => setChanging(d)}
          />
        ))}
      </ul>
      {shown && <Outbox of={shown} />}
      {changing && <Changing d={changing} onClose={() => setChanging(undefined)} />}
    </div>
  );
}

/** The dialog of a delivery, with its report where it has one. */
function Changing({ d, onClose }: { d: Delivery; onClose: () => void }) {
  const report = useReport(d.kind === "report" ? d.item : undefined);
  if (d.kind === "report" && !report.data && !report.error) return null;
  return (
    <SendDialog kind={d.kind} item={d.item} title={d.of} brief={report.data?.brief} delivery={d} onClose={onClose} />
  );
}

function One({
  d,
  all,
  open,
  onOpen,
  onChange,
}: {
  d: Delivery;
  all: boolean;
  open: boolean;
  onOpen: () => void;
  onChange: () => void;
}) {
  const client = useQueryClient();
  const [asked, setAsked] = useState(false);
  const path = { params: { path: { id: d.id } } };
  const done = () => anew(client, "deliveries", "outbox");
  const [pause] = useDo((on: boolean) => ask(api.PUT("/api/deliveries/{id}/paused", { ...path, body: { on } })), done);
  const [send] = useDo(
    (alone: boolean) => ask(api.POST("/api/deliveries/{id}/send", { ...path, body: { alone } })),
    (sent, alone) => {
      done();
      toast(alone ? "On its way to you" : `On its way to ${sent.to} ${sent.to === 1 ? "person" : "people"}`);
    },
  );
  const [remove] = useDo(
    () => ask(api.DELETE("/api/deliveries/{id}", path)),
    () => {
      done();
      toast("It is sent no longer");
    },
  );
  const to = (d.terms.people?.length ?? 0) + (d.terms.teams?.length ?? 0);
  return (
    <li className="sheet px-4 py-3">
      <div className="flex flex-wrap items-start gap-x-3 gap-y-1">
        <div className="mr-auto min-w-[240px] flex-1">
          <h2 className="title text-[16px]">{d.title}</h2>
          <p className="text-[14px]">
            {d.of ? (
              <Link className="link" to={d.kind === "report" ? `/reports/${d.item}` : `/dashboards/${d.item}`}>
                {d.of}
              </Link>
            ) : (
              <span className="text-ink2">what was deleted, or is not open to you</span>
            )}
            {", "}
            {d.words}
          </p>
          <p className="text-[13px] text-ink2">
            to {to} {to === 1 ? "recipient" : "recipients"}
            {d.left.length > 0 && `, ${d.left.length} of whom ${d.left.length === 1 ? "does" : "do"} not want it`}
            {all && ` · ${d.owner}’s`}
            {d.last && ` · last ${d.last}`}
            {d.next && ` · next ${d.next}`}
          </p>
          {(d.paused || d.why) && (
            <p className={`mt-1 text-[13px] ${d.paused ? "font-semibold text-rust" : "text-rust"}`}>
              {d.paused && "Paused. "}
              {d.why}
            </p>
          )}
        </div>
        <button type="button" className="btn" aria-expanded={open} onClick={onOpen}>
          Outbox
        </button>
        {d.paused && (
          <button type="button" className="btn" onClick={() => pause(false)}>
            Go on
          </button>
        )}
        <button type="button" className="btn" onClick={onChange}>
          Change…
        </button>
        <Menu label={`More of ${d.title}`} className="btn" text="More…" width={220}>
          <MenuItem label="Send it now, to me alone" onPick={() => send(true)} />
          <MenuItem label="Send it now, to all" onPick={() => send(false)} />
          {!d.paused && <MenuItem label="Pause" onPick={() => pause(true)} />}
          <MenuItem label="Delete…" onPick={() => setAsked(true)} />
        </Menu>
      </div>
      {asked && (
        <p role="alert" className="mt-2 flex items-center gap-3 rounded bg-amber-soft px-3 py-2">
          <span className="mr-auto">It is sent to nobody any more. What went stays in their mail.</span>
          <button type="button" className="btn btn-quiet" onClick={() => setAsked(false)}>
            Not now
          </button>
          <button type="button" className="btn" onClick={() => remove()}>
            Send it no longer
          </button>
        </p>
      )}
    </li>
  );
}

const states: Record<Mail["state"], string> = {
  waiting: "waits",
  sending: "is being handed over",
  sent: "sent",
  told: "told in the inbox",
  failed: "given up",
  dropped: "not sent",
  unsure: "may have arrived",
};

/** Every mail of a delivery: what became of it, and why. */
function Outbox({ of: d }: { of: Delivery }) {
  const client = useQueryClient();
  const mails = useQuery({
    queryKey: ["outbox", d.id],
    queryFn: () => ask(api.GET("/api/outbox", { params: { query: { delivery: d.id } } })),
    refetchInterval: 10_000,
  });
  const [again] = useDo(
    (id: number) => ask(api.POST("/api/outbox/{id}/again", { params: { path: { id } } })),
    () => anew(client, "outbox"),
  );
  return (
    <section aria-label={`Outbox of ${d.title}`} className="mt-5">
      <h2 className="title mb-1 text-[17px]">Outbox of “{d.title}”</h2>
      <Trouble error={mails.error} />
      {mails.data?.length === 0 && <p className="text-ink2">Nothing was sent yet.</p>}
      {mails.data && mails.data.length > 0 && (
        <table className="w-full border-collapse text-[14px]">
          <thead>
            <tr className="text-left text-[12px] text-ink2">
              <th className="py-1 pr-3 font-normal">to</th>
              <th className="pr-3 font-normal">subject</th>
              <th className="pr-3 font-normal">written</th>
              <th className="pr-3 font-normal">state</th>
              <th className="font-normal">
                <span className="sr-only">What can be done with it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {mails.data.map((m) => (
              <tr key={m.id} className="border-line border-t align-top">
                <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                  {m.recipient}
                  <span className="block font-normal text-[12px] text-ink2">{m.address}</span>
                </th>
                <td className="py-1.5 pr-3">{m.subject}</td>
                <td className="py-1.5 pr-3 whitespace-nowrap">{m.made}</td>
                <td className="py-1.5 pr-3">
                  <span className={["failed", "unsure", "dropped"].includes(m.state) ? "font-semibold text-rust" : ""}>
                    {states[m.state]}
                  </span>
                  {m.sent && <span className="text-ink2"> {m.sent}</span>}
                  {m.due && m.tries > 0 && <span className="text-ink2">, tried again {m.due}</span>}
                  {m.reason && <span className="block text-[13px] text-ink2">{m.reason}</span>}
                </td>
                <td className="py-1.5 text-right whitespace-nowrap">
                  {(m.state === "failed" || m.state === "unsure") && (
                    <button type="button" className="btn mr-2" onClick={() => again(m.id)}>
                      Send again
                    </button>
                  )}
                  {m.readable && (
                    <a className="link" href={`/api/outbox/${m.id}/letter`} aria-label={`The mail to ${m.recipient}`}>
                      the mail
                    </a>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
