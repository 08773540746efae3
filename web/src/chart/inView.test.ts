import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

type Seen = (entries: { isIntersecting: boolean }[]) => void;

/** What is observed, and how to say what is seen of it. */
const sights: { tell: Seen; gone: boolean }[] = [];
class Sight {
  sight: { tell: Seen; gone: boolean };
  constructor(tell: Seen) {
    this.sight = { tell, gone: false };
    sights.push(this.sight);
  }
  observe() {}
  disconnect() {
    this.sight.gone = true;
  }
}

describe("pictures out of view", () => {
  let idle: (() => void)[] = [];
  beforeEach(() => {
    sights.length = 0;
    idle = [];
    vi.resetModules();
    vi.stubGlobal("IntersectionObserver", Sight);
    vi.stubGlobal("requestIdleCallback", (act: () => void) => idle.push(act));
  });
  afterEach(() => vi.unstubAllGlobals());
  const box = document.createElement("div");

  it("are drawn at once when they are in view, and only once", async () => {
    const { whenSeen } = await import("./inView");
    const draw = vi.fn();
    whenSeen(box, draw);
    expect(draw).not.toHaveBeenCalled();
    sights[0].tell([{ isIntersecting: true }]);
    expect([draw.mock.calls.length, sights[0].gone]).toEqual([1, true]);
  });

  it("are drawn one after another while nothing else is to be done", async () => {
    const { whenSeen } = await import("./inView");
    const drawn: string[] = [];
    for (const name of ["a", "b", "c"]) whenSeen(box, () => drawn.push(name));
    for (const s of sights) s.tell([{ isIntersecting: false }]);
    expect(drawn).toEqual([]);
    idle.shift()?.();
    expect(drawn).toEqual(["a"]);
    sights[2].tell([{ isIntersecting: true }]);
    expect(drawn, "what comes into view goes before").toEqual(["a", "c"]);
    while (idle.length) idle.shift()?.();
    expect(drawn).toEqual(["a", "c", "b"]);
  });

  it("are left when they are put away, and all drawn for paper", async () => {
    const { whenSeen, drawAll } = await import("./inView");
    const drawn: string[] = [];
    const leave = whenSeen(box, () => drawn.push("left"));
    whenSeen(box, () => drawn.push("kept"));
    for (const s of sights) s.tell([{ isIntersecting: false }]);
    leave();
    drawAll();
    expect(drawn).toEqual(["kept"]);
    while (idle.length) idle.shift()?.();
    expect(drawn).toEqual(["kept"]);
  });
});
