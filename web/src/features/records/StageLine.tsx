import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { Menu, MenuItem } from "../../ui/Menu";
import { useDo } from "../../ui/useDo";
import { setValues } from "../work/setValues";
import { takeBack } from "../work/takeBack";
import type { useUndo } from "../work/useUndo";

type Step = Schemas["WayStepBody"];

/**
 * The stages of a record as a mooring line: those it has been at, with since when and how long, and the one where it is.
 * A press moves it there; the ends at which nothing comes of it stand in a menu.
 */
export function StageLine({ type, id, done }: { type: TypeInfo; id: string; done: ReturnType<typeof useUndo> }) {
  const way = useQuery({
    queryKey: ["record", type.key, id, "stages"],
    queryFn: () =>
      ask(api.GET("/api/records/{type}/{id}/stages", { params: { path: { type: type.key, id: Number(id) } } })),
  }).data;
  const field = way?.field ?? "";
  const [move] = useDo(
    async (to: string) => ({ to, changed: await setValues(type, Number(id), { [field]: to }) }),
    ({ to, changed }) => {
      if (changed.length) done({ words: `Moved to ${to}`, back: () => takeBack(type.key, changed) });
    },
  );
  if (!field || !way) return null;
  const here = way.steps.find((s) => s.now);
  const lost = way.steps.filter((s) => s.status === "lost");
  // A line leads to where it is won, or to where it ended.
  const line = way.steps.filter((s) => s.status !== "lost" || s.now);
  const place = line.findIndex((s) => s.now);
  return (
    <ol aria-label="Stages" className="mb-3 flex overflow-x-auto pt-1">
      {line.map((s, i) => (
        <li key={s.stage} className="min-w-[104px] flex-1">
          <button
            type="button"
            className="group block w-full text-left"
            aria-current={s.now ? "step" : undefined}
            aria-label={`${s.stage}${s.now ? ", where it is now" : ""}${s.since ? `, since ${s.since}, ${s.days} days` : ""}`}
            title={s.now ? undefined : `Move to ${s.stage}`}
            disabled={s.now}
            style={{ opacity: 1 }}
            onClick={() => move(s.stage)}
          >
            <span aria-hidden className="relative flex h-5 items-center">
              <span
                className={`absolute right-0 left-0 h-[2px] ${i < line.length - 1 ? (i < place ? "bg-sea" : "bg-line2") : "hidden"}`}
              />
              <Dot step={s} passed={i < place} />
            </span>
            <span className={`block truncate text-[13px] ${s.now ? "font-bold" : "text-ink2 group-hover:text-ink"}`}>
              {s.stage}
            </span>
            <span className="block truncate text-[11.5px] text-ink2">
              {s.since && `${s.now ? "since " : ""}${s.since}`}
              {s.since && s.days > 0 && ` · ${s.days} ${s.days === 1 ? "day" : "days"}`}
            </span>
          </button>
        </li>
      ))}
      {lost.length > 0 && here?.status !== "lost" && (
        <li className="self-start">
          <Menu label="Ends without success" className="btn btn-quiet !h-6 !px-2 text-[13px]" text="Ends…">
            {lost.map((s) => (
              <MenuItem key={s.stage} label={s.stage} onPick={() => move(s.stage)} />
            ))}
          </Menu>
        </li>
      )}
    </ol>
  );
}

/** Where a line is made fast: filled where it has been, with the beak where it is. */
const Dot = ({ step: s, passed }: { step: Step; passed: boolean }) =>
  s.now ? (
    <span className="relative z-[1] inline-flex items-center">
      <span className={`h-[18px] w-[18px] rounded-full ${s.status === "lost" ? "bg-rust" : "bg-ink"}`} />
      <span className="-ml-[3px] border-y-[6px] border-y-transparent border-l-[9px] border-l-[var(--amber)]" />
    </span>
  ) : (
    <span
      className={`relative z-[1] h-[14px] w-[14px] rounded-full border-2 ${passed && s.since ? "border-sea bg-sea" : passed ? "border-sea bg-paper" : "border-line2 bg-paper group-hover:border-sea"}`}
    />
  );
