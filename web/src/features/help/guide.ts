import type { HelpPage } from "../../ui/help";

/** The texts of the guide, by file. */
export const texts = import.meta.glob("./pages/*.md", { query: "?raw", import: "default", eager: true }) as Record<
  string,
  string
>;

/** The pictures of the guide, which the tests take anew from the demo company. */
const shots = import.meta.glob("../../../../docs/screenshots/*.png", {
  query: "?url",
  import: "default",
  eager: true,
}) as Record<string, string>;

/** The text of a page, "" where there is none. */
export const textOf = (page: HelpPage) => texts[`./pages/${page}.md`] ?? "";

/** Where a picture is, undefined where there is none of the name. */
export const shotOf = (name: string) => shots[`../../../../docs/screenshots/${name}.png`];
