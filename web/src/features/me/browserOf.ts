const browsers: [RegExp, string][] = [
  [/Edg\//, "Edge"],
  [/OPR\//, "Opera"],
  [/Firefox\//, "Firefox"],
  [/Chrome\//, "Chrome"],
  [/Safari\//, "Safari"],
];
const systems: [RegExp, string][] = [
  [/Windows/, "Windows"],
  [/Android/, "Android"],
  [/iPhone|iPad/, "iOS"],
  [/Mac OS X/, "macOS"],
  [/Linux/, "Linux"],
];

/** What a browser that calls itself so is for people: Firefox on Linux. */
export function browserOf(agent: string): string {
  const find = (list: [RegExp, string][]) => list.find(([is]) => is.test(agent))?.[1];
  const browser = find(browsers);
  const system = find(systems);
  if (!browser) return agent || "A browser that did not say which";
  return system ? `${browser} on ${system}` : browser;
}
