import { useId, useRef, useState } from "react";

const functions = ["min(", "max(", "abs(", "round(", "if(", "first_filled(", "days(", "today()"];

/** A formula with completion: what can follow the word being typed is offered, Tab or Enter takes it. */
export function Formula({
  label,
  value,
  onChange,
  words = [],
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  words?: string[];
}) {
  const id = useId();
  const box = useRef<HTMLTextAreaElement>(null);
  const [at, setAt] = useState(value.length);
  const typed = /[a-z0-9_.]*$/.exec(value.slice(0, at))?.[0] ?? "";
  const offers = typed ? [...words, ...functions].filter((w) => w.startsWith(typed) && w !== typed).slice(0, 6) : [];
  const take = (w: string) => {
    const next = value.slice(0, at - typed.length) + w + value.slice(at);
    onChange(next);
    setAt(at - typed.length + w.length);
    box.current?.focus();
  };
  return (
    <div>
      <label className="mb-1 block" htmlFor={id}>
        {label}
      </label>
      <textarea
        ref={box}
        id={id}
        className="input font-mono text-[13px]"
        rows={2}
        spellCheck={false}
        value={value}
        onChange={(e) => {
          onChange(e.target.value);
          setAt(e.target.selectionStart);
        }}
        onSelect={(e) => setAt(e.currentTarget.selectionStart)}
        onKeyDown={(e) => {
          if ((e.key === "Tab" || e.key === "Enter") && offers.length > 0 && !e.shiftKey) {
            e.preventDefault();
            take(offers[0]);
          } else if (e.key === "Enter") e.preventDefault();
        }}
      />
      {offers.length > 0 && (
        <div className="mt-1 flex flex-wrap gap-1">
          {offers.map((w) => (
            <button key={w} type="button" className="rounded bg-sunk px-1.5 font-mono text-xs" onClick={() => take(w)}>
              {w}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
