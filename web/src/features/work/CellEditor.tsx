import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, ask, type FieldInfo, Refused, type TypeInfo } from "../../api/client";
import { yesNo } from "../../fields/fields";
import { tell } from "../../ui/tell";
import { type Changed, changesOf } from "./changes";
import { asEdited } from "./conflict";
import { FoundRecords } from "./FoundRecords";
import { useFinder } from "./useFinder";

type Wrong = { words: string; again?: string };

/**
 * The control of a field in its cell. It sets the value as it was read: where someone else has changed the record
 * meanwhile, it says so and asks. onDone is told what it was and is now; nothing where nothing was changed.
 */
export function CellEditor({
  type,
  field,
  id,
  shown,
  onDone,
}: {
  type: TypeInfo;
  field: FieldInfo;
  id: string;
  /** What the cell shows. */
  shown: string;
  onDone: (done?: { changed: Changed[]; words: string }) => void;
}) {
  const path = { type: type.key, id: Number(id) };
  const kept = useQuery({
    queryKey: ["record values", type.key, id, "cell"],
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => ask(api.GET("/api/records/{type}/{id}/values", { params: { path } })),
  });
  const [wrong, setWrong] = useState<Wrong>();
  const [busy, setBusy] = useState(false);
  const there = useRef(true);
  useEffect(() => {
    there.current = true;
    return () => {
      there.current = false;
    };
  }, []);
  if (kept.error) return <Bubble words={(kept.error as Error).message} />;
  if (!kept.data) return <span className="text-ink2">{shown}</span>;
  const was = kept.data.values[field.key] ?? "";
  const save = async (now: string, words: string, over = false) => {
    if (now === (asEdited([field], { [field.key]: was })[field.key] ?? "")) return onDone();
    setBusy(true);
    setWrong(undefined);
    try {
      const after = await ask(
        api.PATCH("/api/records/{type}/{id}", {
          params: { path, header: over ? {} : { "If-Match": `"${kept.data.version}"` } },
          body: { values: { [field.key]: now } },
        }),
      );
      // What else changed with it, as the day that a deal is closed on, is taken back with it.
      const changed = changesOf(type, after.id, kept.data.values, after.values);
      onDone({ changed, words });
    } catch (e) {
      const other = e instanceof Refused && e.status === 412 ? e.problem.now?.values[field.key] : undefined;
      // Another field of it was changed: that is not in the way.
      if (e instanceof Refused && e.status === 412 && (other ?? "") === was) return save(now, words, true);
      // Who has gone on to another cell is told, all the same.
      if (!there.current) return tell(e as Error);
      setWrong(
        e instanceof Refused && e.status === 412
          ? { words: `Someone else set it to “${other || "nothing"}” meanwhile.`, again: now }
          : { words: (e as Error).message },
      );
      setBusy(false);
    }
  };
  return (
    <>
      <Control field={field} was={was} shown={shown} busy={busy} onSave={save} onLeave={() => onDone()} />
      {wrong && (
        <Bubble words={wrong.words}>
          {wrong.again !== undefined && (
            <>
              <button type="button" className="link" onClick={() => save(wrong.again as string, "", true)}>
                Set mine
              </button>
              <button type="button" className="link" onClick={() => onDone()}>
                Leave it
              </button>
            </>
          )}
        </Bubble>
      )}
    </>
  );
}

/** What is wrong with a value, under its cell. */
const Bubble = ({ words, children }: { words: string; children?: React.ReactNode }) => (
  <div
    role="alert"
    className="pop absolute top-full left-0 z-30 w-64 whitespace-normal border-rust p-2 text-left text-[13px] text-rust leading-5"
  >
    {words} {children && <span className="mt-1 flex gap-3">{children}</span>}
  </div>
);

const box =
  "h-full w-full rounded-none border-0 bg-paper px-1.5 text-ink outline-2 outline-[var(--sea)] outline-offset-[-2px]";

type ControlProps = {
  field: FieldInfo;
  was: string;
  shown: string;
  busy: boolean;
  onSave: (now: string, words: string) => void;
  onLeave: () => void;
};

function Control(p: ControlProps) {
  const { field: f, was, busy, onSave, onLeave } = p;
  const label = `${f.label}, edited`;
  const choices =
    f.kind === "yesno"
      ? yesNo(f).map((o) => [o.value, o.label])
      : f.kind === "choice" && f.choices?.length
        ? f.choices.map((c) => [c, c])
        : undefined;
  const [text, setText] = useState(asEdited([f], { [f.key]: was })[f.key] ?? "");
  if (f.kind === "link") return <LinkControl {...p} />;
  if (choices)
    return (
      <select
        className={box}
        aria-label={label}
        // biome-ignore lint/a11y/noAutofocus: it is opened to be chosen from
        autoFocus
        disabled={busy}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          onSave(e.target.value, e.target.selectedOptions[0]?.text ?? "");
        }}
        onKeyDown={(e) => {
          if (e.key !== "Escape" && e.key !== "Enter") return;
          e.preventDefault();
          e.stopPropagation();
          onLeave();
        }}
        onBlur={() => !busy && onLeave()}
      >
        {!f.required && <option value="">–</option>}
        {choices.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    );
  const kind = f.kind === "date" ? "date" : f.kind === "time" ? "datetime-local" : "text";
  return (
    <input
      className={`${box} ${kind === "text" && f.kind !== "text" ? "text-right" : ""}`}
      type={kind}
      aria-label={label}
      inputMode={kind === "text" && f.kind !== "text" ? "decimal" : undefined}
      // biome-ignore lint/a11y/noAutofocus: it is opened to be typed into
      autoFocus
      readOnly={busy}
      value={text}
      onFocus={(e) => kind === "text" && e.currentTarget.select()}
      onChange={(e) => setText(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === "Enter") onSave(text, text);
        else if (e.key === "Escape") onLeave();
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
      onBlur={() => !busy && onSave(text, text)}
    />
  );
}

/** A link in its cell: records are found by their names. */
function LinkControl({ field: f, was, shown, busy, onSave, onLeave }: ControlProps) {
  const finder = useFinder({
    types: f.to ? [f.to] : [],
    nothing: was !== "" && !f.required,
    onPick: (r) => onSave(r.id, r.name),
  });
  return (
    <>
      <input
        {...finder.field}
        className={box}
        aria-label={`${f.label}, edited`}
        placeholder={shown || "Find by name"}
        // biome-ignore lint/a11y/noAutofocus: it is opened to be typed into
        autoFocus
        readOnly={busy}
        onKeyDown={(e) => {
          if (finder.key(e) || (e.key !== "Enter" && e.key !== "Escape")) return;
          onLeave();
          e.preventDefault();
          e.stopPropagation();
        }}
        onBlur={() => !finder.waits && setTimeout(() => !busy && onLeave(), 150)}
      />
      <FoundRecords finder={finder} label={f.label} className="pop absolute top-full left-0 z-30 w-60 p-1 leading-5" />
    </>
  );
}
