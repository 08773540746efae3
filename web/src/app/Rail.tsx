import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { NavLink, useLocation } from "react-router";
import { api, ask, type Me } from "../api/client";
import { may, useSchema } from "../api/hooks";
import { Beak } from "../ui/Beak";
import { helpOf, openHelp } from "../ui/help";
import { TypeIcon } from "../ui/TypeIcon";
import { useDo } from "../ui/useDo";

/** The ink rail on the left; the amber beak points at where one is. */
export function Rail({ me, place }: { me: Me; place: string }) {
  const schema = useSchema();
  // On a phone it is folded, and folds again when one has gone somewhere.
  const [unfolded, setUnfolded] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: going somewhere folds it
  useEffect(() => setUnfolded(false), [place]);
  return (
    <nav
      aria-label="Main"
      className="sticky top-0 flex h-screen w-[168px] shrink-0 flex-col bg-[var(--rail)] py-4 text-[var(--rail-ink)] max-md:static max-md:h-auto max-md:w-full max-md:py-1"
    >
      <div className="mb-5 flex items-center gap-2 px-5 max-md:mb-0 max-md:px-3">
        <Beak />
        <span className="title text-[19px]">Uzzel</span>
        <button
          type="button"
          className="ml-auto hidden min-h-9 px-3 font-semibold max-md:block"
          aria-expanded={unfolded}
          aria-controls="rail-places"
          onClick={() => setUnfolded(!unfolded)}
        >
          {unfolded ? "Close" : "Menu"}
        </button>
      </div>
      <div id="rail-places" className={`flex min-h-0 flex-1 flex-col ${unfolded ? "max-md:pb-2" : "max-md:hidden"}`}>
        <Place to="/">Home</Place>
        <Place to="/inbox" also="/inbox">
          Inbox
          <Unread />
        </Place>
        <Place to="/find" also="/reports">
          Find
        </Place>
        <Place to="/dashboards">Dashboards</Place>
        <p className="mt-4 mb-1 px-5 text-xs text-[var(--rail-ink2)] max-md:hidden">Records</p>
        <div className="min-h-0 shrink overflow-y-auto">
          {schema?.rail
            .flatMap((key) => schema.types.find((t) => t.key === key) ?? [])
            .map((t) => (
              <Place key={t.key} to={`/records/${t.key}`}>
                <TypeIcon icon={t.icon} />
                {t.label}
              </Place>
            ))}
        </div>
        <div className="mt-4 max-md:mt-0">
          {may(me, "bring_in") && <Place to="/bring-in">Bring in</Place>}
          {may(me, "targets") && <Place to="/targets">Targets</Place>}
          {may(me, "people") && <Place to="/people">People</Place>}
          {may(me, "shape") && <Place to="/shape">Fields</Place>}
          {(may(me, "style") || may(me, "lay_out") || may(me, "lead")) && <Place to="/settings">Settings</Place>}
        </div>
        <div className="mt-auto px-5 text-[13px] leading-5 text-[var(--rail-ink2)] max-md:mt-3">
          <NavLink to="/me" className="text-[var(--rail-ink)] hover:text-white hover:underline">
            {me.name}
          </NavLink>
          <p className="max-md:hidden">{[me.team, me.role].filter(Boolean).join(" · ")}</p>
          <div className="mt-2 flex flex-wrap gap-x-3 max-md:mt-0">
            <button
              type="button"
              className="underline decoration-dotted underline-offset-3 hover:text-white"
              onClick={() => openHelp(helpOf(place))}
            >
              Help
            </button>
            <Theme />
            <Leave />
          </div>
        </div>
      </div>
    </nav>
  );
}

/** How much one is told and has not read. */
function Unread() {
  const unread = useQuery({
    queryKey: ["unread"],
    queryFn: () => ask(api.GET("/api/inbox/unread")),
    refetchInterval: 120_000,
    retry: false,
  });
  const n = unread.data?.unread ?? 0;
  if (n === 0) return null;
  return (
    <span className="ml-2 rounded-full bg-[var(--amber)] px-1.5 py-px font-bold text-[#191a1f] text-[11px]">
      {n > 99 ? "99+" : n}
      <span className="sr-only"> not read</span>
    </span>
  );
}

function Place({ to, also, children }: { to: string; also?: string; children: React.ReactNode }) {
  const place = useLocation().pathname;
  const within = to === "/" ? place === "/" : place.startsWith(also ?? to);
  return (
    <NavLink
      to={to}
      end={to === "/"}
      className="relative block px-5 py-[7px] font-medium hover:text-[var(--amber)] max-md:px-1 max-md:py-1"
    >
      {({ isActive }) => (
        <>
          {(isActive || within) && (
            <span
              aria-hidden
              className="absolute top-[9px] left-0 border-y-[7px] border-l-[10px] border-y-transparent border-l-[var(--amber)] max-md:hidden"
            />
          )}
          <span className={isActive || within ? "font-bold text-white max-md:underline" : ""}>{children}</span>
        </>
      )}
    </NavLink>
  );
}

function Theme() {
  const [dark, setDark] = useState(document.documentElement.dataset.theme === "ink");
  return (
    <button
      type="button"
      className="underline decoration-dotted underline-offset-3 hover:text-white"
      onClick={() => {
        const next = dark ? "paper" : "ink";
        document.documentElement.dataset.theme = next;
        localStorage.setItem("theme", next);
        setDark(!dark);
        window.dispatchEvent(new Event("themechange"));
      }}
    >
      {dark ? "On paper" : "On ink"}
    </button>
  );
}

function Leave() {
  const client = useQueryClient();
  const [leave] = useDo(
    () => ask(api.DELETE("/api/session")),
    () => {
      client.clear();
      location.assign("/");
    },
  );
  return (
    <button
      type="button"
      className="underline decoration-dotted underline-offset-3 hover:text-white"
      onClick={() => leave()}
    >
      Sign out
    </button>
  );
}
