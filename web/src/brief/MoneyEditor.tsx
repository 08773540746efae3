import type { Brief, SchemaInfo, TypeInfo } from "../api/client";
import { fieldAt, typeOf } from "../fields/fields";
import { Seg } from "../ui/Seg";
import { tidy } from "./edits";

type Props = { schema: SchemaInfo; brief: Brief; onChange: (b: Brief) => void };

/** In which currency amounts are: all in the organisation's, at the rate of which day, or each as it is recorded. */
export function MoneyEditor({ schema, brief, onChange }: Props) {
  const recorded = brief.money?.as === "recorded";
  const set = (money: Brief["money"]) =>
    onChange(tidy({ ...brief, money: money && (money.as || money.rates?.length) ? money : undefined }));
  return (
    <div className="w-[420px] max-w-full">
      <Seg
        label="Amounts are"
        value={recorded ? "recorded" : ""}
        onChange={(as) =>
          as
            ? onChange(byCurrency(schema, { ...brief, money: { ...brief.money, as: "recorded" } }))
            : set({ ...brief.money, as: undefined })
        }
        options={[
          ["", `In ${schema.code}`],
          ["recorded", "As recorded, by currency"],
        ]}
      />
      {recorded && (
        <p className="mt-2 text-[13px] text-ink2">
          Sums stand by currency and are nowhere added up across them. Conditions and own fields still go by{" "}
          {schema.code}.
        </p>
      )}
      <p className="mt-3 mb-1 font-semibold">At the rate of which day</p>
      {schema.types
        .filter((t) => t.money)
        .map((t) => (
          <label key={t.key} className="mb-2 flex items-center gap-2">
            <span className="w-24 shrink-0">{t.label}</span>
            <select
              className="input min-w-0 flex-1"
              value={JSON.stringify(ratesOf(brief, t) ?? null)}
              onChange={(e) => {
                const at = JSON.parse(e.target.value) as string[] | null;
                const others = (brief.money?.rates ?? []).filter((r) => r.of !== t.key);
                set({ ...brief.money, rates: at ? [...others, { of: t.key, at }] : others });
              }}
            >
              {choices(schema, brief, t).map(([value, label]) => (
                <option key={label} value={JSON.stringify(value)}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        ))}
      <p className="text-[13px] text-ink2">A day that is still to come, or a date that is empty, takes today's rate.</p>
    </div>
  );
}

/** The dates that a report names for a record type: none of them is today; undefined where it names nothing. */
const ratesOf = (brief: Brief, t: TypeInfo) => {
  const named = brief.money?.rates?.find((r) => r.of === t.key);
  return named && (named.at ?? []);
};

function choices(schema: SchemaInfo, brief: Brief, t: TypeInfo): [string[] | null, string][] {
  const words = (paths: string[]) =>
    [...paths.map((p) => fieldAt(schema, t.key, p)?.label.toLowerCase() ?? p), "today"].join(", else ");
  const usual = t.rated ?? [];
  const list: [string[] | null, string][] = [[null, words(usual)]];
  for (const f of t.fields)
    if ((f.kind === "date" || f.kind === "time") && !f.worked && !(usual.length === 1 && usual[0] === f.key))
      list.push([[f.key], words([f.key])]);
  if (usual.length > 0) list.push([[], "today"]);
  const now = ratesOf(brief, t);
  if (now && !list.some(([v]) => JSON.stringify(v) === JSON.stringify(now))) list.push([now, words(now)]);
  return list;
}

/** A brief whose amounts are added up as recorded is grouped by their currency: first of all, where it is not yet. */
export function byCurrency(schema: SchemaInfo, brief: Brief): Brief {
  let b = brief;
  for (const s of brief.summaries ?? []) {
    const at = s.of && fieldAt(schema, brief.start, s.of);
    if (!s.of || !at || at.field.kind !== "money") continue;
    const way = s.of.split(".").slice(0, -1);
    const last = way.reduce(
      (t, key) => typeOf(schema, t?.fields.find((f) => f.key === key)?.to),
      typeOf(schema, brief.start),
    );
    if (!last?.money) continue;
    const field = [...way, last.money].join(".");
    if (![...(b.groups ?? []), ...(b.across ?? [])].some((g) => g.field === field))
      b = { ...b, groups: [{ field }, ...(b.groups ?? [])] };
  }
  return b;
}
