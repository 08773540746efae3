/**
 * The one-time key of the address, which is behind its # and so in no server's log. It leaves the address bar at once, and
 * is kept for this window alone, so that a reload goes on.
 */
export function keyOfAddress(): string {
  const store = `key of ${location.pathname}`;
  const key = location.hash.slice(1);
  if (key) {
    sessionStorage.setItem(store, key);
    history.replaceState(history.state, "", location.pathname);
  }
  return key || (sessionStorage.getItem(store) ?? "");
}
