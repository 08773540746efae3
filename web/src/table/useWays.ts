import type { MouseEvent } from "react";
import { useNavigate } from "react-router";
import type { Brief } from "../api/client";

/**
 * Leads where the plain links in a table lead, without loading the application anew. What is opened from a list takes with
 * it which one that is, and its place in it. Clicks that open a window or a tab are the browser's.
 */
export function useWays(from?: Brief) {
  const go = useNavigate();
  return (e: MouseEvent<HTMLElement>) => {
    if (e.defaultPrevented || e.button !== 0 || e.ctrlKey || e.metaKey || e.shiftKey || e.altKey) return;
    const way = (e.target as HTMLElement).closest<HTMLAnchorElement>("a[href^='/records/']");
    if (!way || !e.currentTarget.contains(way)) return;
    e.preventDefault();
    const { place } = way.dataset;
    void go(way.pathname, from && place ? { state: { list: { brief: from, at: Number(place) } } } : undefined);
  };
}
