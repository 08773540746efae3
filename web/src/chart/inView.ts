import { idle } from "../api/idle";

// Pictures out of view wait for those in view, and are then drawn one after another while the browser has nothing else to do.
const waiting = new Set<() => void>();
let going = false;

function next() {
  const [act] = waiting;
  going = act !== undefined;
  if (!act) return;
  waiting.delete(act);
  act();
  idle(next);
}

/** Draws what still waits: who prints or takes a picture of a page wants all of it. */
export function drawAll() {
  for (const act of waiting) act();
  waiting.clear();
}
window.addEventListener("beforeprint", drawAll);

/** Acts as soon as a box is in view, or earlier where nothing else is to be done. Returns how to let it be. */
export function whenSeen(box: HTMLElement, act: () => void): () => void {
  if (!("IntersectionObserver" in window)) {
    act();
    return () => {};
  }
  const once = () => {
    leave();
    act();
  };
  const sight = new IntersectionObserver((seen) => {
    if (seen.some((e) => e.isIntersecting)) return once();
    waiting.add(once);
    if (going) return;
    going = true;
    idle(next);
  });
  const leave = () => {
    sight.disconnect();
    waiting.delete(once);
  };
  sight.observe(box);
  return leave;
}
