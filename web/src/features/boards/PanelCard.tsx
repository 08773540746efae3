import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { type Brief, type Mark, type Panel, Refused, type Report } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { type FieldFilter, type Filters, isEmpty, panelsAnew, usePanel } from "../../api/panels";
import { difference } from "../../brief/reading";
import { Chart } from "../../chart/Chart";
import { KindPicture } from "../../chart/KindPicture";
import { isFigure, kindName } from "../../chart/kinds";
import { PictureItems } from "../../chart/PictureItems";
import { type PictureKind, picture } from "../../chart/picture";
import { Towards } from "../../chart/Towards";
import { Table } from "../../table/Table";
import { Menu, MenuItem, MenuLabel, MenuTick } from "../../ui/Menu";
import { takeOut, takePages } from "../../ui/takeOut";
import { MovedPanel } from "../moved/MovedPanel";
import { StoodPanel } from "../moved/StoodPanel";
import type { Unit } from "../moved/units";
import { type Switched, Switches, switchedTo } from "./Switches";

export type Picked = {
  brief: Brief;
  report?: Report;
  sentence: string;
  marks: Mark[];
  words: string;
  narrows?: FieldFilter;
};

/** What marks narrow the other panels to; nothing where one of them has no value. */
export function markOf({ narrows, marks }: Picked): FieldFilter | undefined {
  const keys = marks.map((m) => m.rows?.[0]);
  if (!narrows || !keys.length || !keys.every((k) => k?.startsWith("="))) return undefined;
  return { ...narrows, values: [...new Set(keys.map((k) => (k as string).slice(1)))] };
}

type Options = NonNullable<Panel["options"]>;

/** One report, placed: its heading, its sentence and its chart, or its table where it has no groups. */
export function PanelCard({
  report,
  options = {},
  record,
  filters = {},
  handle,
  onPick,
  onEnlarge,
  chosen,
  switched,
  onSwitch,
}: {
  report: number;
  options?: Options;
  /** The record on whose page it stands. */
  record?: { type: string; id: string };
  filters?: Filters;
  handle?: React.ReactNode;
  onPick: (p: Picked) => void;
  /** The kind that its reader chose goes with it. */
  onEnlarge?: (kind?: string) => void;
  /** The kind that a reader has chosen already. */
  chosen?: string;
  /** What its reader has switched it to, with others of its report. */
  switched?: Switched;
  onSwitch?: (to: Switched) => void;
}) {
  const schema = useSchema();
  const client = useQueryClient();
  const box = useRef<HTMLElement>(null);
  const [kind, setKind] = useState<string | undefined>(chosen);
  const placed = switchedTo(options, switched);
  const answer = usePanel({ report, options: { ...placed, kind: kind ?? placed.kind }, ...record }, filters);
  const shown = answer.data;
  const kept = shown?.report;
  const own = kept?.brief;
  const asked = shown?.under?.brief;
  const words = shown?.words;
  const error = answer.error ?? (shown?.problem && new Refused(shown.problem.status, shown.problem));
  const a = shown?.answer;
  const missing = answer.error instanceof Refused && answer.error.status === 404;
  // What its owner does not let out is not offered as a file.
  const closed = !!kept?.noDownload && !kept.mayChange;
  const title = options.heading || kept?.title;
  const whole = a && !shown?.list;
  return (
    <article
      ref={box}
      className="sheet flex h-full min-h-0 flex-col p-3.5"
      aria-label={title ?? (missing ? "Missing report" : "Panel")}
      aria-busy={answer.isFetching}
      data-held={closed || undefined}
    >
      <div className="flex items-start gap-2">
        <h2
          className="title mr-auto flex min-w-0 text-[15px]"
          title={[title, kept?.description].filter(Boolean).join(": ")}
        >
          {options.link?.startsWith("https://") ? (
            <a href={options.link} rel="noopener noreferrer" className="min-w-0 truncate hover:underline">
              {title ?? "…"}
            </a>
          ) : (
            <Link to={options.link ?? `/reports/${report}`} className="min-w-0 truncate hover:underline">
              {title ?? (missing ? "Missing" : "…")}
            </Link>
          )}
          {words && <span className="ml-2 min-w-0 shrink-[3] truncate font-normal text-[13px] text-ink2">{words}</span>}
        </h2>
        {handle}
        {asked && a && !handle && (
          <PanelMenu
            title={title ?? a.title}
            kinds={a.kinds}
            kind={asked.chart?.kind ?? ""}
            onKind={(k) =>
              options.switch && onSwitch
                ? onSwitch({ ...switched, kind: k })
                : setKind(k === own?.chart?.kind && !options.kind ? undefined : k)
            }
            reading={`/reports/${report}?reading=${encodeURIComponent(JSON.stringify(own ? difference(own, asked) : asked))}`}
            onRefresh={() => void panelsAnew(client, report)}
            onEnlarge={onEnlarge && (() => onEnlarge(kind))}
            onTake={
              closed
                ? undefined
                : (format) =>
                    void takeOut(asked, kept, {
                      view: a.groups.length === 0 ? "records" : format === "xlsx" ? "outline" : "summary",
                      format,
                    })
            }
            onPages={() => void takePages({ brief: asked, report, title: title ?? a.title })}
            onPicture={
              closed
                ? undefined
                : (as) =>
                    box.current && void picture(box.current, title ?? a.title, as).catch((e) => toast.error(e.message))
            }
          />
        )}
      </div>
      {options.switch &&
        !options.moved &&
        !options.stood &&
        onSwitch &&
        schema &&
        a &&
        asked &&
        !shown?.list &&
        !handle && (
          <Switches
            schema={schema}
            title={title ?? a.title}
            brief={asked}
            summaries={a.summaries}
            value={switched ?? {}}
            onChange={onSwitch}
          />
        )}
      {options.below && <p className="text-[13px] text-ink2">{options.below}</p>}
      {a && (
        <p className="mb-1 truncate text-ink2 text-xs" title={a.text}>
          {a.text}
        </p>
      )}
      {a?.drawing.progress && !isFigure(a.drawing.kind) && <Towards progress={a.drawing.progress} bar={false} />}
      {missing && (
        <p className="py-4 text-ink2">
          The report that stood here was deleted, or is not open to you. If it was deleted lately, it can be{" "}
          <Link className="link" to="/find?deleted=true">
            brought back
          </Link>
          .
        </p>
      )}
      {error && !missing && (
        <p role="alert" className="py-4 text-ink2">
          This panel could not be worked out. The others are not affected.
        </p>
      )}
      <div className={`min-h-0 flex-1 overflow-auto ${answer.isPlaceholderData ? "stale" : ""}`}>
        {a &&
          asked &&
          (options.moved ? (
            <MovedPanel brief={asked} since={options.moved} />
          ) : options.stood ? (
            <StoodPanel brief={asked} unit={options.stood as Unit} lines={options.kind === "line"} />
          ) : !whole ? (
            <Table brief={asked} height="100%" begun={shown?.list} at={answer.dataUpdatedAt} />
          ) : asked.chart && asked.chart.kind !== "table" ? (
            <Chart
              drawing={a.drawing}
              share={asked.chart.measure === "share"}
              height="100%"
              onMark={(marks, words) =>
                onPick({ brief: asked, report: kept, sentence: a.text, narrows: shown?.narrows, marks, words })
              }
            />
          ) : (
            <Table
              answer={a}
              brief={asked}
              height="100%"
              details={false}
              onMore={() => {}}
              onMark={(mark, words) =>
                onPick({ brief: asked, report: kept, sentence: a.text, narrows: shown?.narrows, marks: [mark], words })
              }
            />
          ))}
      </div>
      {options.source && <p className="text-ink2 text-xs">{options.source}</p>}
      {a && (
        <p className="truncate pt-1 text-[11px] text-ink3">
          as of{" "}
          {new Date(answer.dataUpdatedAt).toLocaleTimeString("en-GB", {
            hour: "2-digit",
            minute: "2-digit",
            second: "2-digit",
          })}
          {shown?.under && !isEmpty(filters) && shown.under.obeys.length > 0 && (
            <> · obeys {shown.under.obeys.join(", ")}</>
          )}
          {shown?.under && !isEmpty(filters) && shown.under.ignores.length > 0 && (
            <> · not {shown.under.ignores.join("; not ")}</>
          )}
        </p>
      )}
    </article>
  );
}

function PanelMenu({
  title,
  kinds,
  kind,
  onKind,
  reading,
  onRefresh,
  onEnlarge,
  onPicture,
  onPages,
  onTake,
}: {
  title: string;
  kinds: { kind: string; name: string; lacks?: string }[];
  kind: string;
  onKind: (k: string) => void;
  reading: string;
  onRefresh: () => void;
  onEnlarge?: () => void;
  onPicture?: (as: PictureKind) => void;
  onPages: () => void;
  onTake?: (format: "csv" | "xlsx") => void;
}) {
  const go = useNavigate();
  return (
    <Menu
      label={`More of ${title}`}
      className="btn btn-quiet !h-[26px] min-w-[26px] shrink-0 !px-2"
      text="…"
      width={224}
    >
      {onEnlarge && <MenuItem label="Enlarge" onPick={onEnlarge} />}
      <MenuItem label="Open with this reading" onPick={() => go(reading)} />
      <MenuItem label="Refresh now" onPick={onRefresh} />
      {onPicture && <PictureItems label="A picture of it" onPicture={onPicture} onPages={onPages} />}
      {onTake && (
        <>
          <MenuLabel>What it holds, as a file</MenuLabel>
          <MenuItem label="Workbook (XLSX)" onPick={() => onTake("xlsx")} />
          <MenuItem label="CSV" onPick={() => onTake("csv")} />
        </>
      )}
      <MenuLabel>Drawn as, for this reading</MenuLabel>
      {kinds
        .filter((k) => !k.lacks)
        .map((k) => (
          <MenuTick key={k.kind} on={k.kind === kind} onPick={() => onKind(k.kind)}>
            <KindPicture kind={k.kind} />
            <span className="mr-auto">{kindName(k.name)}</span>
            {k.kind === kind && <span className="text-xs">now</span>}
          </MenuTick>
        ))}
    </Menu>
  );
}
