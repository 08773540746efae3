import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, type Me } from "../api/client";
import { may, useRecordsNamed, useSchema } from "../api/hooks";
import { Named } from "../features/work/Named";
import { type HelpPage, helpPages, openHelp } from "../ui/help";
import { letters, setLetters } from "../ui/letters";
import { isHeard, useOnceKnown } from "../ui/useOnceKnown";

const group =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-ink2 [&_[cmdk-group-heading]]:text-xs";

/** Finds reports, dashboards, records and things to do, from anywhere: Ctrl+K. */
export function Palette({ me }: { me: Me }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const go = useNavigate();
  const schema = useSchema();
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "k" || e.repeat) return;
      e.preventDefault();
      setOpen((o) => !o);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  const words = text.trim();
  const asked = open && words.length > 1;
  const finding = useQuery({
    queryKey: ["palette", words],
    enabled: asked,
    queryFn: ({ signal }) => ask(api.GET("/api/find", { params: { query: { search: words } }, signal })),
  });
  const found = finding.data;
  const types =
    schema?.types.filter((t) => t.name && (t.own || ["customers", "contacts", "deals", "products"].includes(t.key))) ??
    [];
  const naming = useRecordsNamed(
    types.map((t) => t.key),
    asked ? words : "",
  );
  const records = asked && isHeard(naming) ? naming.data : undefined;
  const to = (path: string) => {
    setOpen(false);
    setText("");
    go(path);
  };
  const fits = (label: string) => words.split(/\s+/).every((w) => label.toLowerCase().includes(w.toLowerCase()));
  const doings: [string, () => void][] = [
    [
      "Log or plan something: a call, a visit",
      () => {
        setOpen(false);
        setText("");
        window.dispatchEvent(new Event("log"));
      },
    ],
    ["Home: what waits", () => to("/")],
    ["New report", () => to("/reports/new")],
    ["Find reports, dashboards and folders", () => to("/find")],
    ["Dashboards", () => to("/dashboards")],
    ...(schema?.types ?? []).map((t): [string, () => void] => [
      `List of ${t.label.toLowerCase()}`,
      () => to(`/records/${t.key}`),
    ]),
    ...(
      [
        [true, "Inbox", "/inbox"],
        [true, "What is sent", "/deliveries"],
        [true, "Kept results", "/kept"],
        [may(me, "targets"), "Targets", "/targets"],
        [may(me, "people"), "People and invitations", "/people"],
        [may(me, "shape"), "Fields, choices and stages", "/shape"],
        [may(me, "style") || may(me, "lay_out") || may(me, "lead"), "Settings", "/settings"],
        [may(me, "bring_in"), "Bring in records from a file", "/bring-in"],
      ] as const
    ).flatMap(([may, name, path]): [string, () => void][] => (may ? [[name, () => to(path)]] : [])),
    ["My page: password, where I am signed in, tokens", () => to("/me")],
    [
      letters() ? "Turn single-letter keys off" : "Turn single-letter keys on",
      () => {
        setLetters(!letters());
        setOpen(false);
      },
    ],
  ];
  const guide: [string, () => void][] = (Object.keys(helpPages) as HelpPage[]).map((p) => [
    helpPages[p],
    () => {
      setOpen(false);
      setText("");
      openHelp(p);
    },
  ]);
  const read = words.length > 1 ? guide.filter(([label]) => fits(`help guide ${label}`)) : [];
  const some = doings.filter(([label]) => fits(label));
  // Enter before anything is found for these words counts once it is.
  const list = useRef<HTMLDivElement>(null);
  const looks = finding.isFetching || naming.isFetching;
  const nothing = !some.length && !read.length && !found?.items?.length && !records?.length;
  const enter = useOnceKnown(!looks, () => list.current?.querySelector<HTMLElement>("[cmdk-item]")?.click());
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label="Go to or do"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-black/25"
      contentClassName="pop fixed top-[12vh] left-1/2 z-50 w-[620px] max-w-[calc(100vw-24px)] -translate-x-1/2 p-2"
    >
      <Command.Input
        className="input mb-1"
        value={text}
        onValueChange={(t) => {
          setText(t);
          enter.drop();
        }}
        onKeyDown={(e) => {
          if (e.key !== "Enter" || !nothing || !looks) return;
          e.preventDefault();
          enter.ask();
        }}
        placeholder="A record, a report, a dashboard, something to do"
        aria-label="Go to or do"
      />
      <Command.List ref={list} className="max-h-[52vh] overflow-auto">
        <Command.Empty className="px-3 py-3 text-ink2">{looks ? "Looking…" : "Nothing has these words."}</Command.Empty>
        {some.length > 0 && (
          <Command.Group heading="Do" className={group}>
            {some.map(([label, act]) => (
              <Item key={label} id={`do ${label}`} onPick={act}>
                {label}
              </Item>
            ))}
          </Command.Group>
        )}
        {read.length > 0 && (
          <Command.Group heading="Guide" className={group}>
            {read.map(([label, act]) => (
              <Item key={label} id={`guide ${label}`} onPick={act}>
                {label}
              </Item>
            ))}
          </Command.Group>
        )}
        {!!found?.items?.length && (
          <Command.Group heading="Reports, dashboards, folders" className={group}>
            {found.items.slice(0, 12).map((f) => (
              <Item
                key={`${f.kind} ${f.id}`}
                id={`${f.kind} ${f.id}`}
                onPick={() =>
                  to(
                    f.kind === "report"
                      ? `/reports/${f.id}`
                      : f.kind === "board"
                        ? `/dashboards/${f.id}`
                        : `/find?folder=${f.id}`,
                  )
                }
              >
                <span className="mr-auto truncate">{f.title}</span>
                <span className="text-ink2 text-xs">{f.kind === "board" ? "dashboard" : f.kind}</span>
              </Item>
            ))}
          </Command.Group>
        )}
        {!!records?.length && (
          <Command.Group heading="Records" className={group}>
            {records.map((r) => (
              <Item key={`${r.type} ${r.id}`} id={`${r.type} ${r.id}`} onPick={() => to(`/records/${r.type}/${r.id}`)}>
                <Named record={r} one={types.find((t) => t.key === r.type)?.one} />
              </Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  );
}

function Item({ id, onPick, children }: { id: string; onPick: () => void; children: React.ReactNode }) {
  return (
    <Command.Item value={id} className="pick cursor-pointer data-[selected=true]:bg-amber-soft" onSelect={onPick}>
      {children}
    </Command.Item>
  );
}
