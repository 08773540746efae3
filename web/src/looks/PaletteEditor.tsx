import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { useRested } from "../ui/useRested";

/** Colours in turn, checked as they are edited: for contrast on paper and on ink, and for readers of any sight. */
export function PaletteEditor({ colours, onChange }: { colours: string[]; onChange: (colours: string[]) => void }) {
  const rested = useRested(colours);
  const findings = useQuery({
    queryKey: ["palette", rested],
    queryFn: () => ask(api.POST("/api/settings/palette", { body: { palette: rested } })),
    placeholderData: keepPreviousData,
  });
  const wrong = new Set((findings.data ?? []).flatMap((f) => f.colours));
  return (
    <>
      <ul aria-label="Palette" className="mb-2 flex flex-wrap gap-3">
        {colours.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a colour is its place
          <li key={i} className="text-center text-[12px]">
            <input
              type="color"
              aria-label={`Colour ${i + 1}`}
              value={c}
              className={`block h-11 w-14 cursor-pointer rounded border-2 ${wrong.has(c) ? "border-[var(--rust)]" : "border-line"}`}
              onChange={(e) => onChange(colours.map((x, k) => (k === i ? e.target.value.toUpperCase() : x)))}
            />
            {c}
            {colours.length > 3 && (
              <button
                type="button"
                className="block w-full text-ink2 hover:underline"
                onClick={() => onChange(colours.filter((_, k) => k !== i))}
              >
                take out
              </button>
            )}
          </li>
        ))}
        {colours.length < 12 && (
          <li>
            <button type="button" className="btn !h-11" onClick={() => onChange([...colours, "#777777"])}>
              One more
            </button>
          </li>
        )}
      </ul>
      <div aria-live="polite" className="mb-3 text-[13px]">
        {findings.data?.length === 0 && (
          <p className="text-sea">All stand out on paper and on ink, and are told apart by readers of any sight.</p>
        )}
        {findings.data?.map((f) => (
          <p key={f.text} className="text-rust">
            {f.text}
          </p>
        ))}
      </div>
    </>
  );
}
