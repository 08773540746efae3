import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { anew, keptAnew, recordsAnew } from "./keys";
import { panelsAnew } from "./panels";

type Told = { kind: "records" | "day" | "report" | "board" | "folder" | "targets" | "settings" | "inbox"; id: number };

/** The pause between asking anew twice for what hangs on the records, in milliseconds. */
const shortest = 300;
const longest = 5000;

/**
 * Hears what the server tells, in one window for all: a browser keeps only a few connections to a server, so that a
 * stream for each window would soon hold up everything else. The window that has the lock listens and passes it on.
 */
function listen(act: (told: Told) => void): () => void {
  const channel = "BroadcastChannel" in window ? new BroadcastChannel("uzzel events") : undefined;
  if (channel) channel.onmessage = (e) => act(e.data as Told);
  const gone = new AbortController();
  let close = () => {};
  const open = () => {
    const source = new EventSource("/api/events");
    source.onmessage = (e) => {
      const told = JSON.parse(e.data) as Told;
      act(told);
      channel?.postMessage(told);
    };
    return source;
  };
  if (channel && navigator.locks) {
    navigator.locks
      .request("uzzel events", { signal: gone.signal }, () => {
        const source = open();
        return new Promise<void>((done) => {
          close = () => {
            source.close();
            done();
          };
        });
      })
      .catch(() => undefined);
  } else {
    const source = open();
    close = () => source.close();
  }
  return () => {
    gone.abort();
    close();
    channel?.close();
  };
}

/** Fetches anew what the server says has changed, in every open window. */
export function useEvents() {
  const client = useQueryClient();
  useEffect(() => {
    // What depends on records is asked for anew at once, and while they go on changing as soon as it was answered and a
    // pause is over: the longer the answers take, the longer it is, so that who only looks on never keeps a server busy.
    let later: ReturnType<typeof setTimeout> | undefined;
    let busy = false;
    let missed = false;
    let next = 0;
    let left = false;
    const afresh = async () => {
      later = undefined;
      busy = true;
      missed = false;
      const begun = Date.now();
      await Promise.race([recordsAnew(client), new Promise((done) => setTimeout(done, longest))]);
      busy = false;
      next = Date.now() + Math.min(longest, Math.max(shortest, 3 * (Date.now() - begun)));
      if (missed && !left) soon();
    };
    const soon = () => {
      missed = busy;
      if (!busy) later ??= setTimeout(afresh, Math.max(0, next - Date.now()));
    };
    const act = ({ kind, id }: Told) => {
      if (kind === "records") return soon();
      // Another day, or other settings: periods come to other dates, figures are written otherwise, in all that is shown.
      if (kind === "day" || kind === "settings") return void client.invalidateQueries();
      if (kind === "inbox") return void anew(client, "inbox", "unread");
      keptAnew(client, kind, id);
      if (kind === "report") void panelsAnew(client, id);
    };
    let stop = listen(act);
    // A page that is put away lets go of its connection, and takes it up when it is shown again.
    const hide = () => stop();
    const show = (e: PageTransitionEvent) => {
      if (!e.persisted) return;
      stop = listen(act);
      void client.invalidateQueries();
    };
    window.addEventListener("pagehide", hide);
    window.addEventListener("pageshow", show);
    return () => {
      left = true;
      clearTimeout(later);
      window.removeEventListener("pagehide", hide);
      window.removeEventListener("pageshow", show);
      stop();
    };
  }, [client]);
}
