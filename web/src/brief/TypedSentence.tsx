import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief } from "../api/client";
import { useOnceKnown } from "../ui/useOnceKnown";
import { useRested } from "../ui/useRested";

/** A report typed as a sentence: ways to go on while one types, what was understood below, and what was not. */
export function TypedSentence({
  first = "",
  example = "open deals over 20k closing this quarter by stage, sum of value",
  action = "Compose it",
  onRead,
}: {
  first?: string;
  example?: string;
  action?: string;
  onRead: (b: Brief) => void;
}) {
  const [text, setText] = useState(first);
  const [at, setAt] = useState(-1);
  const rested = useRested(text, 120);
  const next = useQuery({
    queryKey: ["typed-next", rested],
    queryFn: ({ signal }) => ask(api.GET("/api/typed/next", { params: { query: { text: rested } }, signal })),
    enabled: rested.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const read = useQuery({
    queryKey: ["typed", rested],
    queryFn: ({ signal }) => ask(api.POST("/api/typed", { body: { text: rested }, signal })),
    enabled: rested.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const [asked, setAsked] = useState("");
  // Enter right after the last key counts once the sentence is read.
  const enter = useOnceKnown(text === rested && !read.isFetching, () => {
    if (!read.data?.brief) return;
    // What is not understood is never left out without a word: it is asked once.
    if (read.data.unread.length > 0 && asked !== rested) return setAsked(rested);
    onRead(read.data.brief as Brief);
  });
  const ways = text === rested && text.trim() && next.data ? next.data : [];
  const got = text.trim() ? read.data : undefined;
  const ready = got?.brief && got.unread.length === 0 && got.problems.length === 0 && text === rested;
  return (
    <section aria-label="Type what you want to know" className="sheet mb-5 p-3">
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (at >= 0 && ways[at]) {
            setText(`${ways[at]} `);
            setAt(-1);
          } else if (text.trim()) enter.ask();
        }}
      >
        <input
          className="input !h-10 font-[family-name:var(--font-title)] !text-[17px]"
          role="combobox"
          aria-expanded={ways.length > 0}
          aria-controls="ways-on"
          aria-activedescendant={at >= 0 ? `way-${at}` : undefined}
          aria-label="Type what you want to know"
          placeholder={example}
          autoComplete="off"
          spellCheck={false}
          maxLength={4000}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setAt(-1);
            enter.drop();
          }}
          onKeyDown={(e) => {
            if (e.key === "ArrowDown" && ways.length) setAt(Math.min(ways.length - 1, at + 1));
            else if (e.key === "ArrowUp" && ways.length) setAt(Math.max(-1, at - 1));
            else if (e.key === "Tab" && !e.shiftKey && ways.length && at >= 0) {
              setText(`${ways[at]} `);
              setAt(-1);
            } else return;
            e.preventDefault();
          }}
        />
        <button type="submit" className="btn btn-main !h-10" disabled={!text.trim()}>
          {action}
        </button>
      </form>
      {ways.length > 0 && (
        <div id="ways-on" role="listbox" aria-label="Ways to go on" className="mt-2 flex flex-wrap gap-1.5">
          {ways.map((w, i) => (
            <div
              key={w}
              id={`way-${i}`}
              tabIndex={-1}
              role="option"
              aria-selected={i === at}
              className={`cursor-pointer rounded border border-line px-2 py-0.5 text-[13px] ${i === at ? "bg-amber-soft" : "hover:bg-sunk"}`}
              onMouseDown={(e) => {
                e.preventDefault();
                setText(`${w} `);
                setAt(-1);
              }}
            >
              {w.slice(text.lastIndexOf(" ") + 1) || w}
            </div>
          ))}
        </div>
      )}
      {got && (
        <div className="mt-2 text-[13px]" aria-live="polite">
          {got.unread.length > 0 && (
            <p className="mb-1">
              <Pointed text={rested} unread={got.unread} />
            </p>
          )}
          {got.unread.map((u) => (
            <p key={`${u.from} ${u.text}`} className="text-rust">
              “{u.text}” is not understood.
              {u.near?.length > 0 && (
                <span className="text-ink">
                  {" "}
                  Did you mean{" "}
                  {u.near.map((n, i) => (
                    <span key={n}>
                      {i > 0 && " or "}
                      <button
                        type="button"
                        className="link"
                        onClick={() =>
                          setText([...rested].slice(0, u.from).join("") + n + [...rested].slice(u.to).join(""))
                        }
                      >
                        {n}
                      </button>
                    </span>
                  ))}
                  ?
                </span>
              )}
            </p>
          ))}
          {asked === rested && got.unread.length > 0 && got.brief && (
            <p role="alert" className="rounded bg-amber-soft px-2 py-1">
              This would be composed without {got.unread.map((u) => `“${u.text}”`).join(", ")}. Press {action} once more
              to have it so.
            </p>
          )}
          {got.problems.map((p) => (
            <p key={p} className="text-rust">
              {p}
            </p>
          ))}
          {got.text && (
            <p className={ready ? "text-ink" : "text-ink2"}>
              <span className="text-ink2">Understood: </span>
              {got.text}
            </p>
          )}
        </div>
      )}
    </section>
  );
}

/** The sentence with what was not understood underlined. */
function Pointed({ text, unread }: { text: string; unread: { from: number; to: number }[] }) {
  const letters = [...text];
  const out: React.ReactNode[] = [];
  let at = 0;
  for (const u of unread) {
    out.push(letters.slice(at, u.from).join(""));
    out.push(
      <span key={u.from} className="underline decoration-wavy decoration-[var(--rust)] underline-offset-4">
        {letters.slice(u.from, u.to).join("")}
      </span>,
    );
    at = u.to;
  }
  out.push(letters.slice(at).join(""));
  return <>{out}</>;
}
