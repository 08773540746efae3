/** Whether single letters do something by themselves; each person can turn that off in their browser (WCAG 2.2, 2.1.4). */
export const letters = () => localStorage.getItem("letters") !== "off";

export const setLetters = (on: boolean) =>
  on ? localStorage.removeItem("letters") : localStorage.setItem("letters", "off");

const elsewhere =
  "input, textarea, select, [contenteditable], [role=dialog], [role=menu], [role=listbox], [role=combobox]";

/** The letter that a key press stands for, where it is one for the page: not while something is typed or chosen. */
export function letterOf(e: KeyboardEvent): string | undefined {
  if (e.ctrlKey || e.metaKey || e.altKey || e.repeat || e.key.length !== 1 || !letters()) return undefined;
  if (e.target instanceof HTMLElement && e.target.closest(elsewhere)) return undefined;
  if (document.querySelector("[role=menu],[role=dialog][data-state=open]")) return undefined;
  return e.key.toLowerCase();
}

/** A key that is held presses a button once. Gives a function that ends it. */
export function onePress(root: Document = document): () => void {
  const key = (e: KeyboardEvent) => {
    if (
      e.repeat &&
      (e.key === "Enter" || e.key === " ") &&
      e.target instanceof HTMLElement &&
      e.target.closest("button, a, [role=button], [role=menuitem]")
    )
      e.preventDefault();
  };
  root.addEventListener("keydown", key, true);
  return () => root.removeEventListener("keydown", key, true);
}
