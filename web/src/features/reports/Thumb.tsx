import { useEffect, useRef, useState } from "react";
import type { Brief } from "../../api/client";
import { useAnswer } from "../../api/hooks";
import { Sketch } from "../../chart/Sketch";
import { count } from "../../ui/figures";

/** Whether an element has come into view, once. */
function useSeen() {
  const ref = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!ref.current || !("IntersectionObserver" in window)) return setSeen(true);
    const watch = new IntersectionObserver(([e]) => e.isIntersecting && setSeen(true), { rootMargin: "200px" });
    watch.observe(ref.current);
    return () => watch.disconnect();
  }, []);
  return { ref, seen };
}

/** What a brief comes to on the records there are, small: its drawing, or how many records it finds. */
export function Thumb({ brief }: { brief: Brief }) {
  const { ref, seen } = useSeen();
  const answer = useAnswer(seen ? brief : undefined, 12);
  const a = answer.data;
  return (
    <div ref={ref} className="my-2 h-[132px] overflow-hidden rounded-md bg-sunk/60 p-2">
      {a && a.groups.length > 0 && <Sketch drawing={a.drawing} />}
      {a && a.groups.length === 0 && (
        <p className="pt-7 text-center">
          <span className="title text-3xl">{count(a.records)}</span>
          <span className="block text-ink2 text-[13px]">of {count(a.of)} records</span>
        </p>
      )}
    </div>
  );
}
