import { type RefObject, useLayoutEffect, useRef, useState } from "react";
import type { Standing } from "./heights";

/** The height that is drawn at most, in px: browsers draw nothing below some 17 million. */
const tallest = 15_000_000;
/** How many lines are drawn above and below what is seen, so that scrolling finds them. */
const beyond = 5;
/** What lines are placed from where they are too many to be placed from the first, in px. */
const leap = 1_000_000;

/** How far something is scrolled, how high what is seen of its lines is now, and how high it may become, all in px. */
type Seen = { at: number; room: number; most: number };

/** How far down the lines one is who has scrolled so far: further where there are more than can be drawn. */
function downFrom(at: number, height: number, room: number) {
  const end = Math.max(0, height - room);
  return Math.min(end, height <= tallest ? at : (at * end) / Math.max(1, tallest - room));
}

/**
 * Which lines of something that scrolls are in view, from and to among count, and where they are drawn: their container has
 * a height, and what holds them is placed in it, with each at its top from there.
 */
export function useInView(scroller: RefObject<HTMLElement | null>, lines: Standing, count: number) {
  const [seen, setSeen] = useState<Seen>(() => ({ at: 0, room: 0, most: innerHeight }));
  const now = useRef({ lines, at: 0, look: () => {} });
  now.current.lines = lines;
  useLayoutEffect(() => {
    const el = scroller.current;
    if (!el) return;
    const look = () => {
      const room = Math.max(0, el.clientHeight - headOf(el));
      const most = Math.max(el.clientHeight, Number.parseFloat(getComputedStyle(el).maxHeight) || 0);
      const at = el.scrollTop;
      now.current.at = at;
      const { lines } = now.current;
      const first = (s: Seen) => lines.line(downFrom(s.at, lines.height, s.room));
      setSeen((was) => {
        const next = { at, room, most };
        return was.most === most &&
          (lines.height > tallest ? was.at === at && was.room === room : first(was) === first(next))
          ? was
          : next;
      });
    };
    now.current.look = look;
    look();
    el.addEventListener("scroll", look, { passive: true });
    const sizes = new ResizeObserver(look);
    sizes.observe(el);
    return () => {
      el.removeEventListener("scroll", look);
      sizes.disconnect();
    };
  }, [scroller]);

  const down = downFrom(seen.at, lines.height, seen.room);
  const from = Math.max(0, lines.line(down) - beyond);
  const to = Math.min(count, lines.line(down + seen.most) + 1 + beyond);
  const many = lines.height > tallest;
  const base = many ? Math.floor(lines.top(from) / leap) * leap : 0;
  return {
    from,
    to,
    height: Math.min(lines.height, tallest),
    /** Where what holds the lines is placed. */
    place: many ? base + seen.at - down : 0,
    top: (line: number) => lines.top(line) - base,
    /** Brings a line into view; in its middle, or by as little as it takes. */
    show: (line: number, middle = false) => {
      const el = scroller.current;
      if (!el) return;
      const room = Math.max(0, el.clientHeight - headOf(el));
      const is = downFrom(el.scrollTop, lines.height, room);
      const [top, end] = [lines.top(line), lines.top(line + 1)];
      const to = middle ? (top + end - room) / 2 : top < is ? top : end > is + room ? end - room : is;
      if (to === is) return;
      el.scrollTop = many ? (to * (tallest - room)) / Math.max(1, lines.height - room) : to;
      now.current.look();
    },
    /** Goes back to the first line. */
    begin: () => {
      if (now.current.at > 0 && scroller.current) scroller.current.scrollTop = 0;
    },
  };
}

/** The height of the head that stays over the lines. */
const headOf = (el: HTMLElement) => el.firstElementChild?.getBoundingClientRect().height ?? 0;
