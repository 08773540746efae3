const focusable =
  "a[href],button:not(:disabled),input:not(:disabled),select:not(:disabled),textarea:not(:disabled),[tabindex]";

const shown = (el: HTMLElement) =>
  el.isConnected && !el.closest("[inert],[aria-hidden=true],[hidden]") && !(el as HTMLButtonElement).disabled;

/**
 * Keeps the focus where a person expects it: what was focused and goes from the page (a dialog that closes, a row that is
 * deleted, a button that becomes another) hands it to what stood beside it, else to where one was before. Without it the
 * browser would begin anew at the top of the page. Gives a function that ends it.
 */
export function keepFocus(root: Document = document): () => void {
  const been: { el: HTMLElement; beside: HTMLElement[] }[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;
  const note = (e: FocusEvent) => {
    const el = e.target as HTMLElement;
    if (!(el instanceof HTMLElement) || el === root.body) return;
    const all = [
      ...(el
        .closest("ul,ol,table,[role=list],[role=grid],[role=dialog],form,section")
        ?.querySelectorAll<HTMLElement>(focusable) ?? []),
    ];
    const at = all.indexOf(el);
    been.push({
      el,
      beside: at < 0 ? [] : [...all.slice(at + 1, at + 4), ...all.slice(Math.max(0, at - 3), at).reverse()],
    });
    if (been.length > 30) been.shift();
  };
  const check = () => {
    const last = been.at(-1);
    if (!last || last.el.isConnected || (root.activeElement && root.activeElement !== root.body)) return;
    for (let i = been.length - 1; i >= 0; i--) {
      const to = [been[i].el, ...been[i].beside].find(shown);
      if (!to) continue;
      been.length = i + 1;
      to.focus({ preventScroll: true });
      return;
    }
  };
  const watch = new MutationObserver(() => {
    const last = been.at(-1);
    if (!last || last.el.isConnected) return;
    clearTimeout(timer);
    timer = setTimeout(check, 40); // after what closes has said itself where the focus goes
  });
  root.addEventListener("focusin", note);
  watch.observe(root.body, { childList: true, subtree: true });
  return () => {
    clearTimeout(timer);
    watch.disconnect();
    root.removeEventListener("focusin", note);
  };
}
