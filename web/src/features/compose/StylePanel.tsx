import { useEffect, useRef } from "react";
import type { Brief } from "../../api/client";
import { ChartEditor } from "../../brief/ChartEditor";

/** The editor of the chart's style beside the chart. It takes the focus when it opens; Escape leaves it. */
export function StylePanel({
  brief,
  onChange,
  onDone,
}: {
  brief: Brief;
  onChange: (b: Brief) => void;
  onDone: () => void;
}) {
  const here = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const first = here.current?.querySelector<HTMLElement>("[role=option][aria-selected=true],[role=option]");
    first?.focus();
  }, []);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape is heard from all that stands in it
    <div
      ref={here}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || e.defaultPrevented) return;
        e.stopPropagation();
        onDone();
      }}
    >
      <div className="mb-2 flex items-center">
        <h2 className="title mr-auto text-[15px]">Style of the chart</h2>
        <button type="button" className="btn" onClick={onDone}>
          Done
        </button>
      </div>
      <ChartEditor brief={brief} onChange={onChange} />
    </div>
  );
}
