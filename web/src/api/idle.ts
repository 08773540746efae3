/** Acts when the browser has nothing else to do, within half a second. */
export const idle: (act: () => void) => void =
  "requestIdleCallback" in window ? (act) => requestIdleCallback(act, { timeout: 500 }) : (act) => setTimeout(act, 16);
