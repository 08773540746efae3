import { Popover } from "radix-ui";
import { useState } from "react";

/** A word of the sentence that says what is looked for; it opens the other words it could be. */
export function Word({
  label,
  value,
  invite,
  options,
  onChange,
}: {
  label: string;
  value: string;
  /** What stands there while nothing is chosen. */
  invite?: string;
  options: [string, string][];
  onChange: (v: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const text = options.find(([v]) => v === value)?.[1] ?? "…";
  const quiet = invite !== undefined && value === "";
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={quiet ? "invite" : "clause"} aria-label={`${label}: ${quiet ? invite : text}`}>
        {quiet ? invite : text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="pop max-h-[60vh] w-64 overflow-auto p-1.5 font-[family-name:var(--font-text)]"
          align="start"
          sideOffset={6}
          role="listbox"
          aria-label={label}
          onKeyDown={(e) => {
            const step = e.key === "ArrowDown" ? 1 : e.key === "ArrowUp" ? -1 : 0;
            if (!step) return;
            e.preventDefault();
            const all = [...e.currentTarget.querySelectorAll<HTMLElement>("[role=option]")];
            all[all.indexOf(document.activeElement as HTMLElement) + step]?.focus();
          }}
        >
          {options.map(([v, words]) => (
            <button
              key={v}
              type="button"
              role="option"
              aria-selected={v === value}
              className="pick"
              onClick={() => {
                setOpen(false);
                onChange(v);
              }}
            >
              {words}
            </button>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
