import { useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { type Brief, type Mark, type Panel, Refused, type Report } from "../../api/client";
import { askAnew, useAnswer, useReport, useSchema } from "../../api/hooks";
import { GroupTable } from "../../table/GroupTable";
import { RecordTable } from "../../table/RecordTable";
import { MenuItem } from "../../ui/MenuItem";
import { Chart } from "../chart/Chart";
import { KindPicture } from "../chart/KindPicture";
import { isFigure, kindName } from "../chart/kinds";
import { PictureItems } from "../chart/PictureItems";
import { type PictureKind, picture } from "../chart/picture";
import { Towards } from "../chart/Towards";
import { takeOut } from "../compose/takeOut";
import { type Filters, isEmpty, underFilters } from "./filters";
import { asPlaced } from "./placed";

export type Picked = { brief: Brief; report?: Report; sentence: string; marks: Mark[]; words: string };

type Options = NonNullable<Panel["options"]>;

/** One report, placed: its heading, its sentence and its chart, or its table where it has no groups. */
export function PanelCard({
  report,
  options = {},
  brief,
  words,
  filters = {},
  handle,
  onPick,
  onEnlarge,
  chosen,
}: {
  report: number;
  options?: Options;
  brief?: Brief;
  words?: string;
  filters?: Filters;
  handle?: React.ReactNode;
  onPick: (p: Picked) => void;
  /** The kind that its reader chose goes with it. */
  onEnlarge?: (kind?: string) => void;
  /** The kind that a reader has chosen already. */
  chosen?: string;
}) {
  const kept = useReport(report);
  const schema = useSchema();
  const client = useQueryClient();
  const box = useRef<HTMLElement>(null);
  const [kind, setKind] = useState<string | undefined>(chosen);
  const own = brief ?? kept.data?.brief;
  const under = schema && own ? underFilters(schema, own, filters, options.period as Filters["period"]) : undefined;
  const drawnAs = kind ?? options.kind;
  const asked = under && asPlaced(under.brief, { ...options, kind: drawnAs });
  const answer = useAnswer(asked);
  const error = kept.error ?? answer.error;
  const a = answer.data;
  const missing = kept.error instanceof Refused && kept.error.status === 404;
  // What its owner does not let out is not offered as a file.
  const closed = !!kept.data?.noDownload && !kept.data.mayChange;
  const title = options.heading || kept.data?.title;
  const whole = a && (a.groups.length > 0 || isFigure(asked?.chart?.kind));
  return (
    <article
      ref={box}
      className="sheet flex h-full min-h-0 flex-col p-3.5"
      aria-label={title ?? (missing ? "Missing report" : "Panel")}
      aria-busy={answer.isFetching}
      data-held={closed || undefined}
    >
      <div className="flex items-start gap-2">
        <h2 className="title mr-auto min-w-0 truncate text-[15px]" title={[title, kept.data?.description].filter(Boolean).join(": ")}>
          {options.link?.startsWith("https://") ? (
            <a href={options.link} rel="noopener noreferrer" className="hover:underline">
              {title ?? "…"}
            </a>
          ) : (
            <Link to={options.link ?? `/reports/${report}`} className="hover:underline">
              {title ?? (missing ? "Missing" : "…")}
            </Link>
          )}
          {words && <span className="ml-2 font-normal text-[13px] text-ink2">{words}</span>}
        </h2>
        {handle}
        {asked && a && !handle && (
          <PanelMenu
            title={title ?? a.title}
            kinds={a.kinds}
            kind={drawnAs ?? own?.chart?.kind ?? ""}
            onKind={(k) => setKind(k === own?.chart?.kind && !options.kind ? undefined : k)}
            reading={`/reports/${report}?reading=${encodeURIComponent(JSON.stringify(difference(own, asked)))}`}
            onRefresh={() => askAnew(client, asked)}
            onEnlarge={onEnlarge && (() => onEnlarge(kind))}
            onTake={
              closed
                ? undefined
                : (format) =>
                    void takeOut(asked, kept.data, {
                      view: a.groups.length === 0 ? "records" : format === "xlsx" ? "outline" : "summary",
                      format,
                    })
            }
            onPicture={
              closed
                ? undefined
                : (as) => box.current && void picture(box.current, title ?? a.title, as).catch((e) => toast.error(e.message))
            }
          />
        )}
      </div>
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
          (!whole ? (
            <RecordTable brief={asked} height="100%" />
          ) : asked.chart && asked.chart.kind !== "table" ? (
            <Chart
              drawing={a.drawing}
              share={asked.chart.measure === "share"}
              height="100%"
              onMark={(marks, words) => onPick({ brief: asked, report: kept.data, sentence: a.text, marks, words })}
            />
          ) : (
            <GroupTable
              answer={a}
              brief={asked}
              height="100%"
              details={false}
              onMore={() => {}}
              onMark={(mark, words) => onPick({ brief: asked, report: kept.data, sentence: a.text, marks: [mark], words })}
            />
          ))}
      </div>
      {options.source && <p className="text-ink2 text-xs">{options.source}</p>}
      {a && (
        <p className="truncate pt-1 text-[11px] text-ink3">
          as of {new Date(answer.dataUpdatedAt).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit", second: "2-digit" })}
          {under && !isEmpty(filters) && under.obeys.length > 0 && <> · obeys {under.obeys.join(", ")}</>}
          {under && !isEmpty(filters) && under.ignores.length > 0 && <> · not {under.ignores.join("; not ")}</>}
        </p>
      )}
    </article>
  );
}

/** The members of a brief that another has otherwise: what an address carries. */
function difference(was: Brief | undefined, now: Brief) {
  const diff: Record<string, unknown> = {};
  const a = (was ?? {}) as Record<string, unknown>;
  const b = now as Record<string, unknown>;
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)]))
    if (JSON.stringify(a[key]) !== JSON.stringify(b[key])) diff[key] = b[key] ?? null;
  return diff;
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
  onTake?: (format: "csv" | "xlsx") => void;
}) {
  const go = useNavigate();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="btn btn-quiet !h-6 !px-2" aria-label={`More of ${title}`}>
        …
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="pop max-h-[var(--radix-dropdown-menu-content-available-height)] w-56 overflow-auto p-1.5"
          align="end"
          sideOffset={4}
        >
          {onEnlarge && <MenuItem label="Enlarge" onPick={onEnlarge} />}
          <MenuItem label="Open with this reading" onPick={() => go(reading)} />
          <MenuItem label="Refresh now" onPick={onRefresh} />
          {onPicture && <PictureItems label="A picture of it" onPicture={onPicture} />}
          {onTake && (
            <>
              <DropdownMenu.Label className="px-2 pt-2 text-ink3 text-xs">What it holds, as a file</DropdownMenu.Label>
              <MenuItem label="Workbook (XLSX)" onPick={() => onTake("xlsx")} />
              <MenuItem label="CSV" onPick={() => onTake("csv")} />
            </>
          )}
          <DropdownMenu.Label className="px-2 pt-2 text-ink3 text-xs">Drawn as, for this reading</DropdownMenu.Label>
          {kinds
            .filter((k) => !k.lacks)
            .map((k) => (
              <DropdownMenu.CheckboxItem
                key={k.kind}
                className="pick data-[highlighted]:bg-amber-soft"
                checked={k.kind === kind}
                onSelect={() => onKind(k.kind)}
              >
                <KindPicture kind={k.kind} />
                <span className="mr-auto">{kindName(k.name)}</span>
                {k.kind === kind && <span className="text-xs">now</span>}
              </DropdownMenu.CheckboxItem>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
