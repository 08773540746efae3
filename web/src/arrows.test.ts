import { describe, expect, it } from "vitest";

// What each part may know of, besides itself: the arrows of docs/architecture.md point down this list.
const order = [["app"], ["features"], ["brief", "table"], ["looks", "fields"], ["chart"], ["ui"], ["api"]];

const files = import.meta.glob("./**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true }) as Record<
  string,
  string
>;

/** Which files each file imports, tests left out. */
const imports = Object.entries(files)
  .filter(([file]) => !/\.test\.|testing\.tsx|test-setup/.test(file))
  .map(([file, text]) => ({
    file,
    to: [...text.matchAll(/(?:from|import\()\s*"(\.[^"]+)"/g)].map(([, to]) =>
      new URL(to, `file:///${file.slice(2)}`).pathname.slice(1),
    ),
  }));

const part = (file: string) => file.replace("./", "").split("/")[0];

describe("the front end's arrows", () => {
  it("point one way", () => {
    const level = new Map(order.flatMap((names, i) => names.map((n) => [n, i] as const)));
    const wrong = imports.flatMap(({ file, to }) =>
      to
        .filter((t) => {
          const [from, at] = [level.get(part(file)), level.get(part(t))];
          return from !== undefined && at !== undefined && at < from && part(t) !== part(file);
        })
        .map((t) => `${file} → ${t}`),
    );
    expect(wrong).toEqual([]);
  });

  it("make no circle among the features", () => {
    const knows = new Map<string, Set<string>>();
    const feature = (file: string) => /^(?:\.\/)?features\/(\w+)\//.exec(file)?.[1];
    for (const { file, to } of imports)
      for (const t of to) {
        const [a, b] = [feature(file), feature(t)];
        if (a && b && a !== b) knows.set(a, (knows.get(a) ?? new Set()).add(b));
      }
    const circle = (at: string, path: string[]): string[] | undefined =>
      path.includes(at) ? [...path, at] : [...(knows.get(at) ?? [])].map((n) => circle(n, [...path, at])).find(Boolean);
    expect([...knows.keys()].map((k) => circle(k, [])).find(Boolean)).toBeUndefined();
  });
});
