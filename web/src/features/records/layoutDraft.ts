import type { Layout } from "./LayoutDrawer";

/** What was laid out and not saved: of a page as it was at a version. It outlives its window, in this browser. */
type Draft = { layout: Layout; version: number };

const keyOf = (type: string, team: number) => `page layout ${type} ${team}`;

/** What was left unsaved, as long as nobody has saved the page since. */
export function draftOf(type: string, team: number, version: number): Layout | undefined {
  try {
    const d = JSON.parse(localStorage.getItem(keyOf(type, team)) ?? "null") as Draft | null;
    return d?.version === version ? d.layout : undefined;
  } catch {
    return undefined; // something else is kept there
  }
}

export function keepDraft(type: string, team: number, layout: Layout, version: number) {
  try {
    localStorage.setItem(keyOf(type, team), JSON.stringify({ layout, version } satisfies Draft));
  } catch {
    // There is no room: it is as if the browser kept none.
  }
}

export const forgetDraft = (type: string, team: number) => localStorage.removeItem(keyOf(type, team));
