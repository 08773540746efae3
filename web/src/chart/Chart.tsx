import { memo, useEffect, useRef, useState } from "react";
import type { Drawing, Mark } from "../api/client";
import { whenSeen } from "./inView";
import { Sketch } from "./Sketch";
import { Towards } from "./Towards";

/** Whether records stand behind a series' marks: not behind what was before, nor behind a target. */
const opens = (s: Drawing["series"][0]) => s.form !== "ghost" && s.form !== "aim";

/** Opens the records behind marks; words say which. */
export type OnMark = (marks: Mark[], words: string) => void;

type Engine = typeof import("./engine");
type Stage = ReturnType<Engine["stage"]>;
let engine: Promise<Engine> | undefined;
const load = () => {
  engine ??= import("./engine");
  return engine;
};

/** A drawing. Its marks are clicked, or walked with Tab and the arrow keys and opened with Enter. */
export const Chart = memo(function Chart({
  drawing,
  share,
  height,
  lit,
  onMark,
}: {
  drawing: Drawing;
  share?: boolean;
  height: number | string;
  /** The marks that are picked: the others are paler. */
  lit?: Mark[];
  onMark?: OnMark;
}) {
  const act = useRef<Stage>(undefined);
  // Several marks are gathered with Ctrl, and opened together.
  const [gathered, setGathered] = useState<string[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another picture has other marks
  useEffect(() => setGathered([]), [drawing]);
  const pick = (series: number, at: number, more: boolean) => {
    const p = drawing.series[series]?.points[at];
    if (!p || !onMark || p.closed || !opens(drawing.series[series])) return;
    const id = `${series} ${at}`;
    if (more) setGathered((g) => (g.includes(id) ? g.filter((x) => x !== id) : [...g, id]));
    else onMark([p.mark, ...(p.more ?? [])], p.say);
  };
  // What is let go looks so, too.
  const leave = () => {
    setGathered([]);
    act.current?.calm();
  };
  if (drawing.categories.length === 0) {
    return (
      <figure aria-label={drawing.title} className="m-0">
        <p className="py-8 text-center text-ink2">No record meets all conditions, so there is nothing to draw.</p>
      </figure>
    );
  }
  if (drawing.kind === "figure" || drawing.kind === "progress")
    return <Figure drawing={drawing} height={height} onMark={onMark} />;
  return (
    <figure
      aria-label={drawing.title}
      className={`m-0 flex flex-col ${drawing.on ? "rounded bg-paper p-2 text-ink" : ""}`}
      style={{ height: drawing.height && height !== "100%" ? drawing.height : height }}
      data-theme={drawing.on || undefined}
    >
      <Words drawing={drawing} />
      <Picture drawing={drawing} share={!!share} lit={lit} stage={act} onPick={pick} />
      {onMark && (
        <ul
          className="sr-only"
          aria-label="Marks"
          onKeyDown={(e) => {
            const here = (e.target as HTMLElement).dataset.at?.split(" ").map(Number);
            if (e.key === "Enter" && (e.ctrlKey || e.metaKey) && here) {
              e.preventDefault();
              return pick(here[0], here[1], true);
            }
            const step =
              e.key === "ArrowRight" || e.key === "ArrowDown"
                ? 1
                : e.key === "ArrowLeft" || e.key === "ArrowUp"
                  ? -1
                  : 0;
            if (!step) return;
            e.preventDefault();
            const all = [...e.currentTarget.querySelectorAll("button")];
            all[all.indexOf(document.activeElement as HTMLButtonElement) + step]?.focus();
          }}
        >
          {drawing.series.flatMap((s, si) =>
            s.points.map((p, pi) =>
              p.say && opens(s) && !p.closed ? (
                // biome-ignore lint/suspicious/noArrayIndexKey: a mark is its place
                <li key={`${si} ${pi}`}>
                  <button
                    type="button"
                    tabIndex={si === 0 && pi === 0 ? 0 : -1}
                    onFocus={() => act.current?.highlight(si, pi)}
                    onBlur={() => act.current?.calm()}
                    data-at={`${si} ${pi}`}
                    aria-pressed={gathered.length > 0 ? gathered.includes(`${si} ${pi}`) : undefined}
                    onClick={(e) => pick(si, pi, e.ctrlKey || e.metaKey)}
                  >
                    {p.say}
                  </button>
                </li>
              ) : null,
            ),
          )}
        </ul>
      )}
      {gathered.length > 0 && onMark && <Gathered drawing={drawing} ids={gathered} onShow={onMark} onLeave={leave} />}
      {drawing.notes.map((n) => (
        <p key={n} className="text-ink2 text-xs">
          {n}
        </p>
      ))}
      {drawing.source && <p className="text-ink2 text-xs">{drawing.source}</p>}
    </figure>
  );
});

/** The picture itself. What draws it is loaded once, and kept from one drawing to the next. */
function Picture({
  drawing,
  share,
  lit,
  stage,
  onPick,
}: {
  drawing: Drawing;
  share: boolean;
  lit?: Mark[];
  stage: React.RefObject<Stage | undefined>;
  onPick: (series: number, at: number, more: boolean) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const choose = useRef(onPick);
  choose.current = onPick;
  const last = useRef({ drawing, share, lit });
  useEffect(() => {
    last.current = { drawing, share, lit };
    stage.current?.draw(drawing, share, lit);
  }, [drawing, share, lit, stage]);
  useEffect(() => {
    const at = box.current;
    if (!at) return;
    let gone = false;
    const leave = whenSeen(at, () =>
      load().then((e) => {
        if (gone) return;
        stage.current = e.stage(at, (...mark) => choose.current(...mark));
        stage.current.draw(last.current.drawing, last.current.share, last.current.lit);
      }),
    );
    return () => {
      gone = true;
      leave();
      stage.current?.dispose();
      stage.current = undefined;
    };
  }, [stage]);
  return <div ref={box} aria-hidden="true" className="min-h-0 w-full flex-1" data-kind={drawing.kind} />;
}

/** The marks that were gathered, to be opened together or let go. */
function Gathered({
  drawing,
  ids,
  onShow,
  onLeave,
}: {
  drawing: Drawing;
  ids: string[];
  onShow: OnMark;
  onLeave: () => void;
}) {
  const points = ids.flatMap((id) => {
    const [series, at] = id.split(" ").map(Number);
    return drawing.series[series]?.points[at] ?? [];
  });
  const words = points.map((p) => p.say).join("; ");
  return (
    <div role="status" className="flex items-center gap-2 rounded bg-amber-soft px-2 py-1 text-[13px]">
      <span className="min-w-0 flex-1 truncate" title={words}>
        {words}
      </span>
      <button
        type="button"
        className="link shrink-0"
        onClick={() =>
          onShow(
            points.flatMap((p) => [p.mark, ...(p.more ?? [])]),
            words,
          )
        }
      >
        Show the records
      </button>
      <button type="button" className="link shrink-0" onClick={onLeave}>
        Let go
      </button>
    </div>
  );
}

/** What stands over a picture, where its owner gave it words of its own. */
function Words({ drawing: d }: { drawing: Drawing }) {
  if (!d.heading && !d.below && !d.totals) return null;
  return (
    <figcaption className="pb-1">
      {d.heading && <span className="title block">{d.heading}</span>}
      {d.below && <span className="block text-ink2 text-[13px]">{d.below}</span>}
      {d.totals && <span className="block text-[13px] tabular-nums">{d.totals}</span>}
    </figcaption>
  );
}

/** One number, large: how it changed, how far it has come, and its course in small. */
function Figure({ drawing: d, height, onMark }: { drawing: Drawing; height: number | string; onMark?: OnMark }) {
  // Only what follows one another in time has a course.
  const course = d.timed && d.categories.length > 1 && d.series[0];
  return (
    <figure
      aria-label={d.title}
      className="@container m-0 flex flex-col justify-center"
      style={{ height: typeof height === "number" ? undefined : height }}
    >
      <Words drawing={d} />
      <button
        type="button"
        className="self-start text-left hover:underline"
        disabled={!onMark}
        onClick={() => onMark?.([{ rows: [], across: [] }], "All")}
        aria-label={`All: ${d.total}`}
      >
        <span
          className="title block leading-tight"
          style={{ fontSize: `min(44px, ${Math.round(165 / Math.max(4, d.total.length))}cqw)` }}
        >
          {d.total || "–"}
        </span>
      </button>
      {d.change && (
        <p className={d.change.way > 0 ? "text-sea" : d.change.way < 0 ? "text-rust" : "text-ink2"}>
          {d.change.text || "no change known"}
          <span className="text-ink2"> from {d.change.before || "nothing"}</span>
        </p>
      )}
      {d.progress && (
        <div className="mt-2">
          <Towards
            progress={d.progress}
            total={d.total !== d.progress.total}
            onOpen={onMark && (() => onMark([{ rows: [], across: [] }], "All"))}
          />
        </div>
      )}
      {d.kind === "figure" && course && (
        <div className="mt-3 h-16">
          <Sketch drawing={{ ...d, kind: "line" }} />
        </div>
      )}
      {d.source && <p className="mt-2 text-ink2 text-xs">{d.source}</p>}
    </figure>
  );
}
