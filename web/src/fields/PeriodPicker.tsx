import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { SchemaInfo, Schemas } from "../api/client";
import { Calendar, periodQuery } from "../fields/Calendar";
import { Seg } from "../ui/Seg";
import { walk } from "../ui/walk";

type Within = Schemas["MainPeriod"]["within"];
const units = ["day", "week", "month", "quarter", "year"];

/** Brings the word that holds into view when the list opens. */
const showChosen = (list: HTMLElement | null) =>
  void list?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });

/** Chooses a period: a word with the dates it comes to today, a rolling number of units, or two dates. */
export function PeriodPicker({
  schema,
  value,
  onChange,
  onDone,
}: {
  schema: SchemaInfo;
  value?: Within;
  onChange: (w: Within) => void;
  /** A named period was chosen, so that nothing is left to do. */
  onDone?: () => void;
}) {
  const client = useQueryClient();
  const obj = typeof value === "object" ? value : undefined;
  const [way, setWay] = useState<"word" | "rolling" | "dates">(
    obj ? (obj.from || obj.to ? "dates" : "rolling") : "word",
  );
  const [n, setN] = useState(String(obj?.last ?? obj?.next ?? 30));
  const [unit, setUnit] = useState(obj?.unit ?? "day");
  const [dir, setDir] = useState<"last" | "next">(obj?.next ? "next" : "last");
  const [current, setCurrent] = useState(obj?.current ?? true);
  const [from, setFrom] = useState(obj?.from ?? "");
  const [to, setTo] = useState(obj?.to ?? "");
  const roll = (d: typeof dir, count: string, u: string, c: boolean) => {
    const k = Number(count);
    if (Number.isInteger(k) && k > 0) onChange({ [d]: k, unit: u, ...(c ? {} : { current: false }) });
  };
  const span = (a: string, b: string) => (a || b) && onChange({ ...(a ? { from: a } : {}), ...(b ? { to: b } : {}) });
  // What a way shows is in force: the number of units, and the days that the period has come to.
  const turn = async (v: typeof way) => {
    setWay(v);
    if (v === "rolling") roll(dir, n, unit, current);
    if (v !== "dates" || value === undefined || from || to) return v === "dates" ? span(from, to) : undefined;
    const p = await client.fetchQuery(periodQuery(value)).catch(() => undefined);
    if (!p) return;
    setFrom(p.from);
    setTo(p.to);
    span(p.from, p.to);
  };
  return (
    <div>
      <Seg
        label="Kind of period"
        value={way}
        onChange={(v) => void turn(v)}
        options={[
          ["word", "Named"],
          ["rolling", "Rolling"],
          ["dates", "Dates"],
        ]}
      />
      {way === "word" && (
        <div
          role="listbox"
          aria-label="Periods"
          className="mt-2 max-h-[280px] overflow-auto"
          ref={showChosen}
          onKeyDown={walk}
        >
          {schema.periods.map((p) => (
            <button
              key={p.word}
              type="button"
              role="option"
              aria-selected={value === p.word}
              className="pick"
              onClick={() => {
                onChange(p.word);
                onDone?.();
              }}
            >
              <span>{p.label}</span>
              <span className="text-ink3 text-xs">{p.dates}</span>
            </button>
          ))}
        </div>
      )}
      {way === "rolling" && (
        <div className="mt-3 flex flex-wrap items-center gap-2">
          <select
            className="input !w-auto"
            aria-label="Last or next"
            value={dir}
            onChange={(e) => {
              const d = e.target.value as typeof dir;
              setDir(d);
              roll(d, n, unit, current);
            }}
          >
            <option value="last">last</option>
            <option value="next">next</option>
          </select>
          <input
            className="input !w-16"
            aria-label="How many"
            inputMode="numeric"
            value={n}
            onChange={(e) => {
              setN(e.target.value);
              roll(dir, e.target.value, unit, current);
            }}
          />
          <select
            className="input !w-auto"
            aria-label="Unit"
            value={unit}
            onChange={(e) => {
              setUnit(e.target.value);
              roll(dir, n, e.target.value, current);
            }}
          >
            {units.map((u) => (
              <option key={u} value={u}>
                {u}s
              </option>
            ))}
          </select>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={current}
              onChange={(e) => {
                setCurrent(e.target.checked);
                roll(dir, n, unit, e.target.checked);
              }}
            />
            {unit === "day" ? "today included" : `the current ${unit} included`}
          </label>
        </div>
      )}
      {way === "dates" && (
        <div className="mt-3 flex items-center gap-2">
          <input
            className="input"
            type="date"
            aria-label="First day"
            value={from}
            onChange={(e) => {
              setFrom(e.target.value);
              span(e.target.value, to);
            }}
          />
          to
          <input
            className="input"
            type="date"
            aria-label="Last day"
            value={to}
            onChange={(e) => {
              setTo(e.target.value);
              span(from, e.target.value);
            }}
          />
        </div>
      )}
      {value !== undefined && (
        <Calendar
          schema={schema}
          within={value}
          onPick={
            way === "dates"
              ? (day) => {
                  // The first day, then the last; a day before the first begins anew.
                  const fresh = !from || !!to || day < from;
                  setFrom(fresh ? day : from);
                  setTo(fresh ? "" : day);
                  span(fresh ? day : from, fresh ? "" : day);
                }
              : undefined
          }
        />
      )}
    </div>
  );
}
