import { useEffect, useState } from "react";

/** Says on which sides of something that scrolls there is more than is shown, and how wide what is shown is. */
export function useEdges(ref: React.RefObject<HTMLElement | null>, width: number) {
  const [edges, setEdges] = useState({ left: false, right: false, view: 0 });
  useEffect(() => {
    const el = ref.current;
    if (!el) return;
    const look = () => {
      const next = {
        left: el.scrollLeft > 2,
        right: el.scrollLeft + el.clientWidth < Math.max(width, el.scrollWidth) - 2,
        view: el.clientWidth,
      };
      setEdges((was) => (was.left === next.left && was.right === next.right && was.view === next.view ? was : next));
    };
    look();
    el.addEventListener("scroll", look, { passive: true });
    const watch = new ResizeObserver(look);
    watch.observe(el);
    return () => {
      el.removeEventListener("scroll", look);
      watch.disconnect();
    };
  }, [ref, width]);
  return { view: edges.view, sides: `${edges.left ? "more-left" : ""} ${edges.right ? "more-right" : ""}` };
}
