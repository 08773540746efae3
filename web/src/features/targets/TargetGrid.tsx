import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { Trouble } from "../../ui/Say";
import { Seg } from "../../ui/Seg";
import { tell } from "../../ui/tell";

type Row = Schemas["GridRowBody"];
type Cut = "even" | "last_year";
/** Some months of a year, on from one. */
type Stretch = { from: number; months: 1 | 3 | 12 };
/** What was set before, so that it can be taken back. */
type Was = { row: Row; year: number; stretch: Stretch; amounts: string[] };

/** A measure's targets of one year: who goes down, the year, its quarters and the months of those opened go across. */
export function TargetGrid({ measure }: { measure: string }) {
  const client = useQueryClient();
  const [year, setYear] = useState(0);
  const [cut, setCut] = useState<Cut>("even");
  const [opened, setOpened] = useState<number[]>();
  const [past, setPast] = useState<Was[]>([]);
  const grid = useQuery({
    queryKey: ["targets", measure, year],
    queryFn: () => ask(api.GET("/api/targets/{key}/grid", { params: { path: { key: measure }, query: { year } } })),
    placeholderData: keepPreviousData,
  });
  // The version that the next change is made on: the one that was read, or that of one's own last change.
  const version = useRef(0);
  const g = grid.data;
  version.current = Math.max(version.current, g?.version ?? 0);
  if (!g) return <Trouble error={grid.error} />;
  const months = opened ?? [g.quarter];
  const columns: { label: string; stretch: Stretch; quarter?: number; sum: boolean }[] = [
    { label: "Year", stretch: { from: 0, months: 12 }, sum: true },
    ...[0, 1, 2, 3].flatMap((q) => [
      {
        label: `${short(g.months[q * 3])} – ${g.months[q * 3 + 2]}`,
        stretch: { from: q * 3, months: 3 as const },
        quarter: q,
        sum: true,
      },
      ...(months.includes(q)
        ? [0, 1, 2].map((k) => ({
            label: g.months[q * 3 + k],
            stretch: { from: q * 3 + k, months: 1 as const },
            sum: false,
          }))
        : []),
    ]),
  ];
  const put = (row: Row, stretch: Stretch, what: { amount: string } | { amounts: string[] }, inYear = g.year) =>
    ask(
      api.PUT("/api/targets/{key}/amounts", {
        params: { path: { key: measure } },
        body: {
          kind: row.kind as "" | "team" | "person",
          id: row.id,
          year: inYear,
          ...stretch,
          cut,
          ...what,
          version: version.current,
        },
      }),
    )
      .then((done) => {
        version.current = done.version;
        if (done.note) toast(done.note);
        return done;
      })
      .finally(() => client.invalidateQueries({ queryKey: ["targets", measure] }));
  const set = (row: Row, stretch: Stretch, amount: string) =>
    put(row, stretch, { amount }).then((done) =>
      setPast((p) => [...p, { row, year: g.year, stretch, amounts: done.before ?? [] }]),
    );
  const undo = () => {
    const was = past[past.length - 1];
    if (!was) return;
    put(was.row, was.stretch, { amounts: was.amounts }, was.year).then(() => {
      setPast((p) => p.slice(0, -1));
      if (was.year !== g.year) setYear(was.year);
    }, tell);
  };
  return (
    <section
      aria-label="The grid of targets"
      onKeyDown={(e) => {
        if (
          (e.ctrlKey || e.metaKey) &&
          e.key === "z" &&
          !(e.target instanceof HTMLInputElement && e.target.dataset.dirty)
        ) {
          e.preventDefault();
          undo();
        }
      }}
    >
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <button type="button" className="btn" aria-label="The year before" onClick={() => setYear(g.year - 1)}>
          ‹
        </button>
        <strong className="min-w-[170px] text-center">
          {g.months[0]} – {g.months[11]}
        </strong>
        <button type="button" className="btn" aria-label="The year after" onClick={() => setYear(g.year + 1)}>
          ›
        </button>
        <span className="ml-4">An amount for a quarter or the year is cut</span>
        <Seg
          label="How an amount is cut into months"
          value={cut}
          onChange={(v) => setCut(v as Cut)}
          options={[
            ["even", "evenly"],
            ["last_year", "as the year before came in"],
          ]}
        />
        <button type="button" className="btn btn-quiet ml-auto" disabled={past.length === 0} onClick={undo}>
          Undo
        </button>
      </div>
      <Trouble error={grid.error} />
      <div className="sheet overflow-x-auto">
        <table className="w-full border-collapse text-[13px]" aria-label="Targets">
          <thead>
            <tr>
              <th className="th sticky left-0 bg-[var(--paper)] px-3 py-1.5 text-left">For whom</th>
              {columns.map((c) => (
                <th
                  key={c.label}
                  className={`th whitespace-nowrap px-2.5 py-1.5 !text-right ${c.sum ? "" : "!font-normal"}`}
                >
                  {c.quarter === undefined ? (
                    c.label
                  ) : (
                    <button
                      type="button"
                      className="link"
                      aria-expanded={months.includes(c.quarter)}
                      title={months.includes(c.quarter) ? "Close its months" : "Open its months"}
                      onClick={() =>
                        setOpened(
                          months.includes(c.quarter as number)
                            ? months.filter((m) => m !== c.quarter)
                            : [...months, c.quarter as number],
                        )
                      }
                    >
                      {c.label}
                    </button>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {(g.rows ?? []).map((row) => (
              <tr key={`${row.kind} ${row.id}`} className={`border-line border-t ${row.depth === 0 ? "bg-sunk" : ""}`}>
                <th
                  scope="row"
                  className={`sticky left-0 bg-[var(--paper)] whitespace-nowrap px-3 py-0.5 text-left ${row.depth < 2 ? "font-semibold" : "font-normal"}`}
                  style={{ paddingLeft: 12 + row.depth * 16 }}
                >
                  {row.depth === 0 ? "Everyone" : row.name}
                </th>
                {columns.map((c) => (
                  <td
                    key={c.label}
                    className={`p-0.5 ${c.sum ? "" : "bg-[color-mix(in_srgb,var(--sunk)_50%,transparent)]"}`}
                  >
                    <Amount
                      label={`${row.depth === 0 ? "Everyone" : row.name}, ${c.label}`}
                      text={amountOf(row, c.stretch)}
                      below={c.stretch.months === 12 ? row.below : ""}
                      onSet={(amount) => set(row, c.stretch, amount)}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 max-w-[90ch] text-[13px] text-ink2">
        Who has no target of their own is held to what those within come to, shown in italics. Type 40,000, 40k or 1.5m;
        empty takes a target away.
      </p>
    </section>
  );
}

const short = (month: string) => month.split(" ")[0];

function amountOf(row: Row, s: Stretch): string {
  if (s.months === 12) return row.year;
  return (s.months === 3 ? row.quarters?.[s.from / 3] : row.months?.[s.from]) ?? "";
}

/** One amount of the grid: Enter sets it and goes down, Escape leaves it as it was, arrows move between amounts. */
function Amount({
  label,
  text,
  below,
  onSet,
}: {
  label: string;
  text: string;
  below: string;
  onSet: (amount: string) => Promise<unknown>;
}) {
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState("");
  const keep = () => {
    if (typed === undefined) return;
    if (typed.trim() === text) return setTyped(undefined);
    onSet(typed).then(
      () => {
        setTyped(undefined);
        setWrong("");
      },
      (e: Error) => setWrong(e.message),
    );
  };
  return (
    <>
      <input
        className={`w-full min-w-[92px] rounded border border-transparent bg-transparent px-2 py-1 text-right hover:border-line focus:border-ink focus:bg-[var(--paper)] ${
          below && !text ? "placeholder:text-ink2 placeholder:italic" : ""
        } ${wrong ? "!border-rust" : ""}`}
        aria-label={label}
        aria-invalid={wrong !== ""}
        title={wrong || undefined}
        data-dirty={typed === undefined ? undefined : "yes"}
        placeholder={below || "–"}
        value={typed ?? text}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          const cells = [...(e.currentTarget.closest("table")?.querySelectorAll("input") ?? [])];
          const wide = e.currentTarget.closest("tr")?.querySelectorAll("input").length ?? 1;
          const at = cells.indexOf(e.currentTarget);
          const whole =
            e.currentTarget.selectionStart === 0 && e.currentTarget.selectionEnd === e.currentTarget.value.length;
          const to = {
            Enter: wide,
            ArrowDown: wide,
            ArrowUp: -wide,
            ...(whole ? { ArrowLeft: -1, ArrowRight: 1 } : {}),
          }[e.key];
          if (e.key === "Escape") {
            setTyped(undefined);
            setWrong("");
          } else if (to !== undefined) {
            e.preventDefault();
            if (cells[at + to]) cells[at + to].focus();
            else keep();
          }
        }}
      />
      {wrong && (
        <p role="alert" className="px-2 text-left text-rust text-xs">
          {wrong}
        </p>
      )}
    </>
  );
}
