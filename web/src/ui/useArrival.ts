import { useEffect, useRef } from "react";

/**
 * Gives every route its title and, when one comes to it, the focus: both follow the heading of the page, as soon as it is
 * there and whenever it is called something else.
 */
export function useArrival(place: string) {
  const from = useRef<string>(undefined);
  useEffect(() => {
    const main = document.querySelector("main");
    if (!main) return;
    let arriving = from.current !== undefined && from.current !== place;
    from.current = place;
    const look = () => {
      const h1 = main.querySelector<HTMLElement>("h1");
      if (!h1?.textContent) return;
      const title = `${h1.textContent} · Uzzel`;
      if (document.title !== title) document.title = title;
      if (!arriving) return;
      arriving = false;
      const at = document.activeElement;
      if (at && at !== document.body && main.contains(at)) return; // the page has said itself where one begins
      h1.tabIndex = -1;
      h1.focus({ preventScroll: true });
    };
    look();
    const watch = new MutationObserver(look);
    watch.observe(main, { childList: true, subtree: true, characterData: true });
    return () => watch.disconnect();
  }, [place]);
}
