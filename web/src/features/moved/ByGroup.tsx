import { useQuery } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";
import { count } from "../../ui/figures";
import { Trouble } from "../../ui/Say";

/** What moved, a line for each group: what it was, each step, what it is. A step opens its records. */
export function ByGroup({
  brief,
  open,
  onOpen,
}: {
  /** With the group that it is cut up by, and since when. */
  brief: Brief;
  open?: { step: string; group: string };
  onOpen: (at: { step: string; group: string; words: string } | undefined) => void;
}) {
  const groups = useQuery({
    queryKey: ["moves", "groups", brief],
    queryFn: () => ask(api.POST("/api/moves/groups", { body: { brief } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const m = groups.data;
  if (!m) return groups.error ? <Trouble error={groups.error} /> : <p className="mt-3 text-ink2">Working it out …</p>;
  if (groups.error) return <Trouble error={groups.error} />;
  return (
    <div className="overflow-x-auto" style={{ opacity: groups.isPlaceholderData ? 0.5 : 1 }}>
      <p className="mb-1 text-[12px] text-ink2">{m.drawn || "records"}</p>
      <table className="w-full border-collapse whitespace-nowrap text-[13px]" aria-label={`What moved, by ${m.label}`}>
        <thead>
          <tr className="text-[12px] text-ink2">
            <th className="py-1 pr-3 text-left font-normal">{m.label}</th>
            <th className="px-2 text-right font-normal">then</th>
            {m.steps.map((s) => (
              <th key={s.step} className="px-2 text-right font-normal">
                {s.words}
              </th>
            ))}
            <th className="px-2 text-right font-normal">now</th>
            <th className="pl-2 text-right font-normal">change</th>
          </tr>
        </thead>
        <tbody>
          {m.groups.map((g) => (
            <tr key={g.key} className="border-line border-t">
              <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                {g.label}
              </th>
              <td className="figures px-2 text-right text-ink2">{g.was}</td>
              {g.cells.map((c, i) => {
                const { step, words } = m.steps[i];
                const on = open?.step === step && open.group === g.key;
                return (
                  <td key={step} className={`figures px-2 text-right ${on ? "bg-sea-soft" : ""}`}>
                    {c.records > 0 && (
                      <button
                        type="button"
                        className="link"
                        aria-expanded={on}
                        aria-label={`${g.label}, ${words}: ${c.value}`}
                        title={`${count(c.records)} ${c.records === 1 ? "record" : "records"}`}
                        onClick={() => onOpen(on ? undefined : { step, group: g.key, words: `${g.label}: ${words}` })}
                      >
                        {c.value}
                      </button>
                    )}
                  </td>
                );
              })}
              <td className="figures px-2 text-right font-semibold">{g.now}</td>
              <td
                className={`figures pl-2 text-right ${g.way > 0 ? "text-sea" : g.way < 0 ? "text-rust" : "text-ink2"}`}
              >
                {g.change}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {m.left > 0 && <p className="mt-1 text-[13px] text-ink2">and {count(m.left)} more groups</p>}
      {m.steps.some((s) => s.step.endsWith(":group")) && (
        <p className="mt-2 text-[13px] text-ink2">
          A record that changed its {m.label} leaves one, “to another”, and comes into the other, “from another”.
        </p>
      )}
    </div>
  );
}
