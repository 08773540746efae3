import { useIsFetching, useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask } from "../../api/client";
import { may, useMe } from "../../api/hooks";
import { anew } from "../../api/keys";
import { KeptStyles } from "../../looks/KeptStyles";
import { FigureChoices } from "../../ui/FigureChoices";
import { count, moment } from "../../ui/figures";
import { HelpButton } from "../../ui/HelpButton";
import type { HelpPage } from "../../ui/help";
import { Empty, Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";
import { Changes } from "./Changes";
import { CurrencySettings } from "./CurrencySettings";
import { Exceptions } from "./Exceptions";
import { HomeSettings } from "./HomeSettings";
import { MailSettings } from "./MailSettings";
import { SightOptions } from "./SightOptions";
import { StyleSettings } from "./StyleSettings";
import { WordsSettings } from "./WordsSettings";

/** What is set for everyone, as far as one has the right to it. */
export function SettingsPage() {
  const me = useMe().data;
  const client = useQueryClient();
  const sees = useQuery({
    queryKey: ["sees"],
    enabled: me?.role === "administrator",
    queryFn: () => ask(api.GET("/api/settings/sees")),
  });
  const [set] = useDo(
    ({ type, ...body }: { type: string; how: string; version: number }) =>
      ask(api.PUT("/api/settings/sees/{type}", { params: { path: { type } }, body })),
    () => {
      toast(`Saved. It holds for every question from now on.`);
      void client.invalidateQueries();
    },
    (e) => {
      tell(e);
      anew(client, "sees");
    },
  );
  // What is asked for the first time moves what stands below it once it is there.
  const filling = useIsFetching({ predicate: (q) => q.state.status === "pending" }) > 0;
  if (!me) return null;
  const administers = me.role === "administrator";
  if (!may(me, "style") && !may(me, "lay_out") && !may(me, "lead") && !may(me, "shape"))
    return <Empty title="Settings are the administrators’">Ask one of them for a change.</Empty>;
  return (
    <div aria-busy={filling}>
      <h1 className="title mb-1 text-[26px]">Settings</h1>
      {administers && (
        <>
          <Heading page="people">Which records people may see</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            What someone may not see is taken out before everything else: from reports, counts, dashboards, searches and
            exports. Administrators are no exception to what they set here.
          </p>
          <Trouble error={sees.error} />
          <div className="sheet max-w-[560px]">
            {sees.data?.map((s) => (
              <label key={s.type} className="flex items-center gap-3 border-line border-b px-4 py-2 last:border-0">
                <span className="mr-auto font-semibold">{s.label}</span>
                <select
                  className="input !w-56"
                  aria-label={`Which ${s.label.toLowerCase()} people may see`}
                  value={s.how}
                  onChange={(e) => set({ type: s.type, how: e.target.value, version: s.version })}
                >
                  <SightOptions />
                </select>
              </label>
            ))}
          </div>
          {sees.data && <Exceptions types={sees.data} />}
          <Heading page="people">What people may do, and how they sign in</Heading>
          <ReadersKeep />
          <Heading page="people">How figures and days are written</Heading>
          <FigureSettings />
        </>
      )}
      {may(me, "shape") && (
        <>
          <Heading page="currencies">Currencies</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            Amounts of deals and products may be in these too. Reports add them up in the organisation’s currency.
          </p>
          <CurrencySettings />
        </>
      )}
      {may(me, "lay_out") && (
        <>
          <Heading page="begin">Words of our own</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            What we call some of our records. They can be typed wherever a report is, as “leads by segment”.
          </p>
          <WordsSettings />
        </>
      )}
      {(may(me, "lay_out") || may(me, "lead")) && (
        <>
          <Heading page="dashboards">Where people begin</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            The dashboard that comes first after signing in. Who may not open it begins on Find.
          </p>
          <HomeSettings />
        </>
      )}
      {administers && (
        <>
          <Heading page="people">Mail</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            Invitations and the way to another password can be mailed. What is set here is tried with a mail to you.
          </p>
          <MailSettings />
        </>
      )}
      {may(me, "style") && (
        <>
          <Heading page="charts">House style</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            How charts look that say nothing else. What a chart says for itself stays.
          </p>
          <StyleSettings />
          <Heading page="charts">Styles kept by name</Heading>
          <p className="mb-3 max-w-[70ch] text-ink2">
            Charts and panels ask for one of these. Change it, and all of them change. On Find, many reports can be
            given one at once.
          </p>
          <KeptStyles />
        </>
      )}
      {administers && (
        <>
          <Heading page="files">Backup</Heading>
          <Backup />
          <Heading page="people">What was changed here</Heading>
          <Changes />
        </>
      )}
    </div>
  );
}

/** When the data was copied last, and how it is. */
function Backup() {
  const last = useQuery({ queryKey: ["backup"], queryFn: () => ask(api.GET("/api/settings/backup")) }).data;
  if (!last) return null;
  return (
    <p className="text-ink2">
      {last.at
        ? `Copied last on ${moment(last.at)}, ${count(Math.ceil(last.bytes / 1e6))} MB, and found whole.`
        : "It was never copied."}{" "}
      <code>uzzel backup FILE --db FILE</code> copies it while people work.
    </p>
  );
}

/** What a part of the settings is about, with its page of the guide. */
function Heading({ page, children }: { page: HelpPage; children: React.ReactNode }) {
  return (
    <div className="mt-6 mb-1 flex items-center gap-2">
      <h2 className="title text-[17px]">{children}</h2>
      <HelpButton page={page} />
    </div>
  );
}

/** Whether readers may keep reports of their own, and how everyone signs in. */
function ReadersKeep() {
  const client = useQueryClient();
  const policy = useQuery({ queryKey: ["policy"], queryFn: () => ask(api.GET("/api/settings/people")) });
  const [set] = useDo(
    (to: { readersKeep?: boolean; secondFactor?: boolean }) =>
      ask(
        api.PUT("/api/settings/people", {
          body: {
            readersKeep: policy.data?.readersKeep ?? true,
            secondFactor: policy.data?.secondFactor ?? false,
            version: policy.data?.version,
            ...to,
          },
        }),
      ),
    () => {
      toast("Saved");
      anew(client, "policy", "me");
    },
    (e) => {
      tell(e);
      anew(client, "policy");
    },
  );
  if (!policy.data) return <Trouble error={policy.error} />;
  return (
    <>
      <label className="mb-1 flex items-center gap-2">
        <input
          type="checkbox"
          checked={policy.data.readersKeep}
          onChange={(e) => set({ readersKeep: e.target.checked })}
        />
        Readers may keep reports of their own, in their private folders, where nobody else opens them
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={policy.data.secondFactor ?? false}
          onChange={(e) => set({ secondFactor: e.target.checked })}
        />
        Everyone signs in with a code of an app besides the password; who has none sets it up first
      </label>
    </>
  );
}

/** How numbers, amounts and days are written for everyone, each way with an example. Sentences are not: they are typed. */
function FigureSettings() {
  const client = useQueryClient();
  const figures = useQuery({ queryKey: ["figures"], queryFn: () => ask(api.GET("/api/settings/figures")) });
  const { tag = "", days = "", ways = [], dayWays = [], version = 0 } = figures.data ?? {};
  const [set] = useDo(
    (to: { tag?: string; days?: string }) =>
      ask(api.PUT("/api/settings/figures", { body: { tag, days, version, ...to } })),
    () => {
      toast("Saved");
      void client.invalidateQueries();
    },
    (e) => {
      tell(e);
      anew(client, "figures");
    },
  );
  if (!figures.data) return <Trouble error={figures.error} />;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <FigureChoices ways={ways} dayWays={dayWays} tag={tag} days={days} onChange={set} />
      <span className="text-ink2 text-[13px]">
        in tables, charts, lists and files, for whoever has not chosen otherwise; a sentence is typed, and reads the
        same for everyone
      </span>
    </div>
  );
}
