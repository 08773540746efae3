import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { HelpButton } from "../../ui/HelpButton";
import { type HelpPage, helpOf, helpPages, useHelp } from "../../ui/help";
import { shotOf, textOf, texts } from "./guide";
import { Help } from "./Help";

const pages = Object.keys(helpPages) as HelpPage[];

function Here() {
  const page = useHelp();
  return (
    <>
      <HelpButton page="begin" />
      {page && <Help page={page} />}
    </>
  );
}

describe("the guide", () => {
  it("has a text for each page, under its title, and no text without a page", () => {
    for (const p of pages) expect(textOf(p).split("\n")[0], p).toBe(`# ${helpPages[p]}`);
    expect(Object.keys(texts)).toHaveLength(pages.length);
  });

  it("leads nowhere that is not there", () => {
    for (const p of pages)
      for (const [, to] of textOf(p).matchAll(/\]\(([^)]+)\)/g)) {
        const [kind, name] = to.split(":");
        if (kind === "help") expect(pages, `${p} → ${to}`).toContain(name);
        else if (kind === "shot") expect(shotOf(name), `${p} → ${to}`).toBeTruthy();
        else expect.fail(`${p} → ${to}`);
      }
  });

  it("is short: a page is read in a minute", () => {
    for (const p of pages) expect(textOf(p).split(/\s+/).length, p).toBeLessThan(260);
  });

  it("knows what each screen is about", () => {
    expect(helpOf("/reports/3")).toBe("reading");
    expect(helpOf("/reports/3/edit")).toBe("begin");
    expect(helpOf("/reports/new/deals")).toBe("begin");
    expect(helpOf("/bring-in")).toBe("bring-in");
    expect(helpOf("/")).toBe("home");
    expect(helpOf("/records/deals")).toBe("lists");
    expect(helpOf("/records/deals/7")).toBe("pages");
  });

  it("opens beside a “?”, goes on by its links and from page to page, and closes", async () => {
    render(<Here />);
    await userEvent.click(screen.getByRole("button", { name: `Help: ${helpPages.begin}` }));
    expect(screen.getByRole("dialog", { name: helpPages.begin })).toBeTruthy();
    expect(screen.getByRole<HTMLImageElement>("img", { name: "A report being composed" }).src).toContain("compose");
    await userEvent.click(screen.getByRole("button", { name: "which records" }));
    expect(screen.getByRole("dialog", { name: helpPages.records })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: /^Next/ }));
    expect(screen.getByRole("dialog", { name: helpPages.whose })).toBeTruthy();
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
  });
});
