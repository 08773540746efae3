import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { useMe, useSubjects } from "../../api/hooks";
import { recordsAnew } from "../../api/keys";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { setValues } from "../work/setValues";
import { takeBack } from "../work/takeBack";
import type { useUndo } from "../work/useUndo";
import { SinceLooked } from "./SinceLooked";

type Entry = Schemas["EntryBody"];
type Narrowed = { kind: string; what: string; person: number; from: string; to: string };

const whole: Narrowed = { kind: "", what: "", person: 0, from: "", to: "" };

/** What was done about a record and how it was changed, the latest first, narrowed by kind, person and time. */
export function Timeline({
  type,
  id,
  diary,
  done,
}: {
  type: TypeInfo;
  id: string;
  diary?: TypeInfo;
  done: ReturnType<typeof useUndo>;
}) {
  const [by, setBy] = useState(whole);
  const [further, setFurther] = useState(false);
  const me = useMe().data;
  // Asked once a visit: what is new stays marked while one is here.
  const since = useQuery({
    queryKey: ["look", type.key, id],
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    retry: false,
    queryFn: () =>
      ask(api.POST("/api/records/{type}/{id}/look", { params: { path: { type: type.key, id: Number(id) } } })),
  }).data;
  const isNew = (e: Entry) => !!since?.at && e.written > since.at && e.by !== me?.id;
  const people = useSubjects().filter((s) => s.kind === "person");
  const lines = useInfiniteQuery({
    queryKey: ["record", type.key, id, "timeline", by],
    initialPageParam: 0,
    placeholderData: keepPreviousData,
    queryFn: ({ pageParam }) =>
      ask(
        api.GET("/api/records/{type}/{id}/timeline", {
          params: {
            path: { type: type.key, id: Number(id) },
            query: { ...by, ...(pageParam ? { before: pageParam } : {}) },
          },
        }),
      ),
    getNextPageParam: (last) => (last.more ? last.entries.at(-1)?.at : undefined),
  });
  const first = lines.data?.pages[0];
  const entries = lines.data?.pages.flatMap((p) => p.entries) ?? [];
  const chip = (words: string, to: Partial<Narrowed>) => {
    const on = by.kind === (to.kind ?? "") && by.what === (to.what ?? "");
    return (
      <button
        key={words}
        type="button"
        aria-pressed={on}
        className={`rounded-full border px-2.5 py-0.5 text-[13px] ${on ? "border-ink bg-ink text-paper" : "border-line2 bg-paper hover:border-ink2"}`}
        onClick={() => setBy({ ...by, kind: "", what: "", ...to })}
      >
        {words}
      </button>
    );
  };
  return (
    <section aria-label="Time line" className="min-w-0">
      <div className="mb-2 flex flex-wrap items-center gap-1.5">
        {chip("All", {})}
        {Object.entries(first?.kinds ?? {})
          .sort((a, b) => b[1] - a[1])
          .map(([kind, n]) => chip(`${kind || "other"} ${n}`, { kind }))}
        {first && chip(`Changes ${first.changes}`, { what: "changed" })}
        <button
          type="button"
          className="link ml-auto text-[13px]"
          aria-expanded={further}
          onClick={() => {
            setFurther(!further);
            if (further) setBy({ ...by, person: 0, from: "", to: "" });
          }}
        >
          {further ? "of everyone, at any time" : "of whom, when…"}
        </button>
      </div>
      {further && (
        <div className="mb-2 flex flex-wrap items-center gap-2 text-[13px]">
          <select
            className="input !h-7 !w-44"
            aria-label="Of whom"
            value={by.person}
            onChange={(e) => setBy({ ...by, person: Number(e.target.value) })}
          >
            <option value={0}>everyone</option>
            {people.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
          {(["from", "to"] as const).map((end) => (
            <label key={end} className="flex items-center gap-1">
              {end}
              <input
                type="date"
                className="input !h-7 !w-36"
                value={by[end]}
                onChange={(e) => setBy({ ...by, [end]: e.target.value })}
              />
            </label>
          ))}
        </div>
      )}
      <SinceLooked since={since} />
      <Trouble error={lines.error} />
      <div className={`sheet px-4 py-2 ${lines.isPlaceholderData ? "stale" : ""}`} aria-busy={lines.isPlaceholderData}>
        <ol aria-label="Entries" className="max-h-[calc(100vh-330px)] min-h-[120px] overflow-auto">
          {entries.map((e) => (
            <Line
              key={`${e.what} ${e.id} ${e.at}`}
              entry={e}
              fresh={isNew(e)}
              type={type}
              id={id}
              diary={diary}
              done={done}
            />
          ))}
        </ol>
        {first && entries.length === 0 && (
          <p className="py-6 text-ink2">
            Nothing yet{by === whole ? ": the first line above begins it." : " like this."}
          </p>
        )}
        {lines.hasNextPage && (
          <button type="button" className="link py-1" onClick={() => lines.fetchNextPage()}>
            Earlier ones
          </button>
        )}
      </div>
    </section>
  );
}

const dots: Record<string, string> = {
  did: "bg-sea",
  planned: "border-2 border-[var(--amber)] bg-paper",
  late: "bg-rust",
  changed: "bg-line2",
  made: "bg-ink",
};

function Line({
  entry: e,
  fresh,
  type,
  id,
  diary,
  done,
}: {
  entry: Entry;
  /** Whether others wrote it down since one last looked. */
  fresh: boolean;
  type: TypeInfo;
  id: string;
  diary?: TypeInfo;
  done: ReturnType<typeof useUndo>;
}) {
  const client = useQueryClient();
  const [moving, setMoving] = useState(false);
  const [set] = useDo(
    (values: Record<string, string>) => setValues(diary as TypeInfo, e.id, values),
    (changed) => {
      setMoving(false);
      const words = diary?.diary && changed[0]?.field === diary.diary.done ? "Marked done" : "Moved";
      done({ words: `${words}: ${e.kind}`, back: () => takeBack(diary?.key ?? "", changed) });
    },
  );
  const [back] = useDo(
    () => takeBack(type.key, [{ id: Number(id), field: e.field, from: e.was, to: e.is }]),
    (left) => {
      recordsAnew(client);
      toast(left ? "It was changed again since, and stays as it is" : `${e.label} is what it was`);
    },
  );
  const [day, time] = e.when.split(/ (?=\S+$)/);
  return (
    <li
      className={`grid grid-cols-[88px_14px_1fr] gap-x-2 py-1.5 text-[13.5px] ${fresh ? "shadow-[inset_3px_0_0_var(--amber)]" : ""}`}
    >
      <span className={`whitespace-nowrap text-right text-[12.5px] leading-5 ${e.late ? "text-rust" : "text-ink2"}`}>
        {day}
        <span className="block">{e.what !== "changed" && e.what !== "made" && time}</span>
      </span>
      <span aria-hidden className="relative flex justify-center">
        <span className="absolute top-0 -bottom-3 w-px bg-line" />
        <span className={`relative mt-1.5 h-[9px] w-[9px] rounded-full ${dots[e.late ? "late" : e.what]}`} />
      </span>
      <div className="min-w-0 leading-5">
        {fresh && <span className="sr-only">New: </span>}
        {e.what === "made" ? (
          <p className="text-ink2">Made{e.person && ` by ${e.person}`}</p>
        ) : e.what === "changed" ? (
          <p>
            {e.label} <span className="text-ink2">{e.from || "empty"} →</span> <strong>{e.to || "empty"}</strong>
            {e.person && <span className="text-ink2"> · {e.person}</span>}
            {type.written && (e.was || e.is) && (
              <button type="button" className="link ml-2" onClick={() => back()}>
                take back
              </button>
            )}
          </p>
        ) : (
          <>
            <p>
              <Link className="font-bold hover:underline" to={`/records/${diary?.key}/${e.id}`}>
                {e.kind || "Activity"}
              </Link>
              {e.what === "planned" && (e.late ? <span className="text-rust">, overdue</span> : ", planned")}
              {e.outcome && `, ${e.outcome.toLowerCase()}`}
              {e.minutes && `, ${e.minutes} minutes`}
              {e.person && <span className="text-ink2"> · {e.person}</span>}
              {e.with && (
                <span className="text-ink2">
                  {" "}
                  · with{" "}
                  <Link className="hover:underline" to={`/records/${withType(diary)}/${e.withId}`}>
                    {e.with}
                  </Link>
                </span>
              )}
              {e.what === "planned" && diary?.diary && (
                <span className="ml-2 whitespace-nowrap">
                  <button
                    type="button"
                    className="link font-semibold"
                    onClick={() => diary.diary && set({ [diary.diary.done]: "true" })}
                  >
                    Done
                  </button>{" "}
                  ·{" "}
                  <button type="button" className="link font-semibold" onClick={() => setMoving(!moving)}>
                    Move
                  </button>
                </span>
              )}
            </p>
            {moving && diary?.diary && (
              <input
                type="datetime-local"
                className="input !h-7 !w-52"
                aria-label="Moved to"
                // biome-ignore lint/a11y/noAutofocus: it is opened to be typed into
                autoFocus
                onKeyDown={(k) => {
                  if (k.key === "Escape") setMoving(false);
                  if (k.key === "Enter" && k.currentTarget.value && diary.diary)
                    set({ [diary.diary.when]: k.currentTarget.value });
                }}
              />
            )}
            {e.about && e.about !== e.kind && <p className="break-words text-ink2">{e.about}</p>}
            {e.notes && <p className="line-clamp-3 whitespace-pre-wrap break-words text-ink2">{e.notes}</p>}
          </>
        )}
      </div>
    </li>
  );
}

const withType = (diary?: TypeInfo) => diary?.fields.find((f) => f.key === diary.diary?.with)?.to ?? "";
