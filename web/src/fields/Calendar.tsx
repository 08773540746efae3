import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type SchemaInfo, type Schemas } from "../api/client";
import { useMe } from "../api/hooks";

type Within = Schemas["MainPeriod"]["within"];

const iso = (y: number, m: number, d: number) => new Date(Date.UTC(y, m, d)).toISOString().slice(0, 10);

/** Asks for the days of a period, today. */
export const periodQuery = (within: Within) => ({
  queryKey: ["period", within] as const,
  queryFn: () => ask(api.POST("/api/period", { body: { within: within as never } })),
  retry: false,
});

/** The days of a period, on a small calendar, and where today is. */
export function Calendar({
  schema,
  within,
  onPick,
}: {
  schema: SchemaInfo;
  within: Within;
  onPick?: (day: string) => void;
}) {
  const me = useMe().data;
  // The days of a word are known; those of a number of units or two dates are asked for.
  const word = typeof within === "string" ? schema.periods.find((p) => p.word === within) : undefined;
  const period = useQuery({ ...periodQuery(within), enabled: !word, placeholderData: keepPreviousData });
  const [turned, setTurned] = useState(0);
  const p = word ?? period.data;
  if (!p || !me) return null;
  const [y, m] = (p.from || p.to || me.today).split("-").map(Number);
  const months = [0, 1].map((k) => new Date(Date.UTC(y, m - 1 + turned + k, 1)));
  return (
    <div className="mt-3 border-line border-t pt-2">
      <p className="mb-1 flex items-center gap-2 text-[13px]">
        <span className="mr-auto">
          <strong>{p.dates || "every day"}</strong>{" "}
          <span className={p.today === "in" ? "text-ink2" : "text-rust"}>{p.note}</span>
        </span>
        <button
          type="button"
          className="btn btn-quiet !h-6 !px-1.5"
          aria-label="Earlier months"
          onClick={() => setTurned(turned - 1)}
        >
          ‹
        </button>
        <button
          type="button"
          className="btn btn-quiet !h-6 !px-1.5"
          aria-label="Later months"
          onClick={() => setTurned(turned + 1)}
        >
          ›
        </button>
      </p>
      <div className="grid grid-cols-2 gap-4">
        {months.map((month) => {
          const year = month.getUTCFullYear();
          const at = month.getUTCMonth();
          const lead = (month.getUTCDay() + 6) % 7;
          const days = new Date(Date.UTC(year, at + 1, 0)).getUTCDate();
          return (
            <div key={`${year} ${at}`}>
              <p className="text-center text-ink2 text-xs">
                {month.toLocaleDateString("en-GB", { month: "long", year: "numeric", timeZone: "UTC" })}
              </p>
              <div className="grid grid-cols-7 text-center text-[11px] leading-[19px]">
                {Array.from({ length: lead }, (_, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: empty places have no other identity
                  <span key={`lead ${i}`} />
                ))}
                {Array.from({ length: days }, (_, i) => {
                  const day = iso(year, at, i + 1);
                  const inside = (!p.from || day >= p.from) && (!p.to || day <= p.to);
                  const look = `${inside ? "bg-amber-soft" : ""} ${day === me.today ? "relative z-10 font-bold outline outline-1 outline-[var(--ink)]" : ""}`;
                  return onPick ? (
                    <button
                      key={day}
                      type="button"
                      aria-label={day}
                      className={`${look} hover:bg-[var(--amber)]`}
                      onClick={() => onPick(day)}
                    >
                      {i + 1}
                    </button>
                  ) : (
                    <span key={day} className={look}>
                      {i + 1}
                    </span>
                  );
                })}
              </div>
            </div>
          );
        })}
      </div>
    </div>
  );
}
