import { useState } from "react";
import type { Panel } from "../../api/client";
import { useReport } from "../../api/hooks";
import { PanelDialog, PanelMore } from "./PanelDialog";

/** What a panel is moved and sized by, and what can be done with it while a board is arranged. */
export function Handle({
  panel,
  full,
  onChange,
  onNudge,
  onDouble,
  onDrop,
}: {
  panel: Panel;
  /** Whether the board takes no more panels. */
  full: boolean;
  onChange: (p: Panel) => void;
  onNudge: (key: string, resize: boolean) => void;
  onDouble: () => void;
  onDrop: () => void;
}) {
  const title = useReport(panel.report || undefined).data?.title;
  const name = panel.options?.heading ?? title ?? panel.options?.words ?? "the panel";
  const [words, setWords] = useState(false);
  return (
    <span className="flex gap-1">
      <button
        type="button"
        className="panel-handle btn !h-7 min-w-7 cursor-grab touch-none !px-2 text-xs"
        aria-label={`Move “${name}”`}
        aria-description="Arrow keys move it, with Shift they resize it"
        onKeyDown={(e) => {
          if (!e.key.startsWith("Arrow")) return;
          e.preventDefault();
          onNudge(e.key, e.shiftKey);
        }}
      >
        ⠿
      </button>
      <button type="button" className="btn !h-7 !px-2 text-xs" onClick={() => setWords(true)}>
        {panel.report ? "Settings" : "Words"}
        <span className="sr-only"> of {name}</span>
      </button>
      <PanelMore name={name} panel={panel} full={full} onDouble={onDouble} onDrop={onDrop} />
      {words && <PanelDialog panel={panel} onChange={onChange} onClose={() => setWords(false)} />}
    </span>
  );
}
