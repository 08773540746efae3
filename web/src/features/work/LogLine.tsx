import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { isHeard, useOnceKnown } from "../../ui/useOnceKnown";
import { useRested } from "../../ui/useRested";
import type { useUndo } from "./useUndo";

type Ref = Schemas["Ref"];

/** One typed line of what was done or is planned about records; it says how it is understood while it is typed. */
export function LogLine({
  about,
  diary,
  done,
  focused,
  onDone,
}: {
  about: Ref[];
  /** The record type that it is kept as. */
  diary: string;
  done: ReturnType<typeof useUndo>;
  focused?: boolean;
  onDone?: () => void;
}) {
  const [text, setText] = useState("");
  const rested = useRested(text, 120);
  const understood = useQuery({
    queryKey: ["log", about[0], rested],
    enabled: rested.trim() !== "",
    gcTime: 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.POST("/api/log", { body: { about: about.slice(0, 1), text: rested, dry: true } })),
  });
  const [log, busy] = useDo(
    () => ask(api.POST("/api/log", { body: { about, text } })),
    (kept) => {
      setText("");
      done({
        words: kept.things.map((t) => t.said).join(", then ") + (about.length > 1 ? `, of ${about.length}` : ""),
        back: async () => {
          await ask(api.DELETE("/api/records/{type}", { params: { path: { type: diary } }, body: { ids: kept.ids } }));
          return undefined;
        },
      });
      onDone?.();
    },
  );
  const things = text.trim() && understood.data ? understood.data.things : [];
  const lacks = things.find((t) => t.lacks)?.lacks;
  // Enter right after the last key counts once the line is understood.
  const settled = text === rested && isHeard(understood);
  const enter = useOnceKnown(settled, () => !lacks && log());
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) enter.ask();
      }}
    >
      <input
        className="input"
        aria-label="What was done, or is planned"
        aria-describedby="understood"
        data-log
        placeholder="call tomorrow 10 about the survey"
        autoComplete="off"
        // biome-ignore lint/a11y/noAutofocus: what was opened to be typed into
        autoFocus={focused}
        maxLength={1000}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          enter.drop();
        }}
        onKeyDown={(e) => {
          if (e.key !== "Escape" || !text) return;
          e.preventDefault();
          e.stopPropagation();
          setText("");
        }}
      />
      <p id="understood" className="min-h-[22px] pt-1 text-[13px] text-ink2" aria-live="polite">
        {lacks ? (
          lacks
        ) : things.length > 0 ? (
          <>
            Understood:{" "}
            {things.map((t, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: they stand in the order of the line
              <span key={i}>
                {i > 0 && "; then "}
                <strong className="text-ink">{t.said}</strong>
              </span>
            ))}
            .{" "}
            <button type="submit" className="link font-semibold" disabled={busy}>
              Enter {things[0].planned ? "plans" : "keeps"} it
            </button>
          </>
        ) : null}
      </p>
      <Trouble error={text.trim() ? understood.error : null} />
    </form>
  );
}
