import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { anew } from "../../api/keys";
import { Empty, Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";

/** What one is told: a line each, by day. What is not read yet stands out; what is quiet is not counted. */
export function InboxPage() {
  const client = useQueryClient();
  const inbox = useQuery({ queryKey: ["inbox"], queryFn: () => ask(api.GET("/api/inbox")), retry: false });
  const days = inbox.data?.days ?? [];
  const lines = days.flatMap((d) => d.lines);
  const unread = lines.some((l) => l.unread);
  const [read] = useDo(
    () => ask(api.PUT("/api/inbox/read", { body: { upTo: Math.max(0, ...lines.map((l) => l.id)) } })),
    () => anew(client, "inbox", "unread"),
  );
  const [setQuiet] = useDo(
    (quiet: string[]) => ask(api.PUT("/api/inbox/quiet", { body: { quiet } })),
    () => anew(client, "inbox", "unread"),
  );
  return (
    <div className="grid max-w-[1180px] gap-8 min-[1080px]:grid-cols-[1fr_320px]">
      <div className="min-w-0">
        <header className="mb-3 flex items-center gap-3">
          <h1 className="title mr-auto text-[26px]">Inbox</h1>
          <Link className="btn btn-quiet" to="/deliveries">
            What I send
          </Link>
          <button type="button" className="btn" disabled={!unread} onClick={() => read()}>
            All is read
          </button>
        </header>
        <Trouble error={inbox.error} />
        {inbox.data && days.length === 0 && (
          <Empty title="Nothing to tell you">
            Follow a record, a report or a dashboard, or have a report sent to you: what others do and what comes is
            told here.
          </Empty>
        )}
        {days.map((d) => (
          <section key={d.day} aria-label={d.day} className="mb-5">
            <h2 className="mb-1 text-[13px] text-ink2">{d.day}</h2>
            <ul className="sheet divide-y divide-line px-4">
              {d.lines.map((l, i) => (
                <li
                  // biome-ignore lint/suspicious/noArrayIndexKey: what one follows has no number
                  key={`${l.id} ${i}`}
                  className="flex items-baseline gap-3 py-2"
                >
                  <span className="w-12 shrink-0 text-[13px] text-ink2 tabular-nums">{l.time}</span>
                  <span className={`min-w-0 flex-1 ${l.unread ? "font-bold" : ""}`}>
                    {l.unread && <span className="sr-only">Not read: </span>}
                    {l.link ? (
                      <Link className="hover:underline" to={l.link}>
                        {l.text}
                      </Link>
                    ) : (
                      l.text
                    )}
                  </span>
                  {l.unread && <span aria-hidden="true" className="h-2 w-2 shrink-0 rounded-full bg-amber" />}
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
      <aside className="space-y-6">
        <Coming />
        {inbox.data && (
          <section aria-label="What is counted">
            <h2 className="title mb-1 text-[17px]">What is counted</h2>
            {inbox.data.kinds.map((k) => {
              const quiet = inbox.data.quiet.includes(k.key);
              return (
                <label key={k.key} className="flex items-center gap-2 py-0.5">
                  <input
                    type="checkbox"
                    checked={!quiet}
                    onChange={() =>
                      setQuiet(quiet ? inbox.data.quiet.filter((x) => x !== k.key) : [...inbox.data.quiet, k.key])
                    }
                  />
                  {k.words}
                </label>
              );
            })}
          </section>
        )}
      </aside>
    </div>
  );
}

/** What is sent to one; any of it can be left, and had again. */
function Coming() {
  const client = useQueryClient();
  const coming = useQuery({ queryKey: ["coming"], queryFn: () => ask(api.GET("/api/coming")) });
  const [set] = useDo(
    ({ id, left }: { id: number; left: boolean }) =>
      ask(api.PUT("/api/coming/{id}", { params: { path: { id } }, body: { left } })),
    () => anew(client, "coming", "deliveries"),
  );
  if (!coming.data) return <Trouble error={coming.error} />;
  return (
    <section aria-label="What is sent to me">
      <h2 className="title mb-1 text-[17px]">What is sent to me</h2>
      {coming.data.length === 0 && <p className="text-ink2">Nothing.</p>}
      <ul className="divide-y divide-line">
        {coming.data.map((c) => (
          <li key={c.id} className="py-2">
            <span className={c.left ? "text-ink3 line-through" : "font-semibold"}>{c.title}</span>
            <span className="block text-[13px] text-ink2">
              {c.words}, from {c.from}
              {c.mail ? "" : ", told here alone"}
            </span>
            <button
              type="button"
              className="link text-[13px]"
              aria-label={c.left ? `Get ${c.title} again` : `Get ${c.title} no longer`}
              onClick={() => set({ id: c.id, left: !c.left })}
            >
              {c.left ? "Get it again" : "Get it no longer"}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
