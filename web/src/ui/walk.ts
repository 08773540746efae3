const choices = "[role=option]:not(:disabled),[role=radio]:not(:disabled)";

/**
 * Moves the focus among the choices of a group by the arrow keys, Home and End: a handler for the group's key presses. In
 * a row of radios, what is gone to is chosen, as radios do.
 */
export function walk(e: React.KeyboardEvent<HTMLElement>) {
  const list = [...e.currentTarget.querySelectorAll<HTMLElement>(choices)];
  const at = list.indexOf(document.activeElement as HTMLElement);
  if (at < 0) return;
  const to =
    e.key === "ArrowDown" || e.key === "ArrowRight"
      ? (at + 1) % list.length
      : e.key === "ArrowUp" || e.key === "ArrowLeft"
        ? (at + list.length - 1) % list.length
        : e.key === "Home"
          ? 0
          : e.key === "End"
            ? list.length - 1
            : -1;
  if (to < 0) return;
  e.preventDefault();
  list[to].focus();
  if (list[to].getAttribute("role") === "radio") list[to].click();
}
