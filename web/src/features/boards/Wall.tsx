import { useEffect, useState } from "react";
import type { Panel } from "../../api/client";

const seconds = 15;

/** The panels of a board one after another, large, for a screen on a wall. Space holds one, arrows turn, Escape leaves. */
export function Wall({
  title,
  panels,
  draw,
  onClose,
}: {
  title: string;
  panels: Panel[];
  draw: (p: Panel) => React.ReactNode;
  onClose: () => void;
}) {
  const [at, setAt] = useState(0);
  const [held, setHeld] = useState(false);
  useEffect(() => {
    void document.documentElement.requestFullscreen?.().catch(() => undefined); // where it may not, the window is filled
    return () => void (document.fullscreenElement && document.exitFullscreen());
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each panel has its whole time
  useEffect(() => {
    if (held) return;
    const timer = setInterval(() => setAt((n) => (n + 1) % panels.length), seconds * 1000);
    return () => clearInterval(timer);
  }, [held, at, panels.length]);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key === "Escape") onClose();
      else if (e.key === "ArrowRight") setAt((n) => (n + 1) % panels.length);
      else if (e.key === "ArrowLeft") setAt((n) => (n + panels.length - 1) % panels.length);
      else if (e.key === " " && !(e.target instanceof HTMLButtonElement)) setHeld((h) => !h);
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [onClose, panels.length]);
  const p = panels[at];
  return (
    <section aria-label="On a wall" className="fixed inset-0 z-30 flex flex-col bg-ground p-6">
      <header className="mb-3 flex items-center gap-3">
        <h1 className="title mr-auto text-[28px]">{title}</h1>
        <span className="text-ink2">
          {at + 1} of {panels.length}
        </span>
        <button type="button" className="btn" aria-pressed={held} onClick={() => setHeld(!held)}>
          {held ? "Go on turning" : "Hold this one"}
        </button>
        <button type="button" className="btn" onClick={onClose}>
          Leave
        </button>
      </header>
      <div key={at} className="min-h-0 flex-1">
        {p && draw(p)}
      </div>
    </section>
  );
}
