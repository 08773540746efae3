import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { fileName } from "./download";
import { Trouble } from "./Say";
import { Seg } from "./Seg";
import { reason } from "./tell";
import { told } from "./useSorting";
import { VersionList } from "./VersionList";
import { searched } from "./words";

describe("words of a search", () => {
  it("are found in any order, in any of the texts, whatever their case", () => {
    expect(searched("won SEGMENT")("Won by segment")).toBe(true);
    expect(searched("quarter pipeline")("Pipeline", "this quarter")).toBe(true);
    expect(searched("  ")("anything")).toBe(true);
    expect(searched("won person")("Won by segment")).toBe(false);
  });
});

describe("the name of a file", () => {
  it("has nothing that a file system stumbles over", () => {
    expect(fileName("Won / lost: “2026”?")).toBe("Won lost “2026”");
    expect(fileName('a\\b*c|d<e>f"g')).toBe("a b c d e f g");
    expect(fileName(" /// ")).toBe("file");
  });
});

describe("an error", () => {
  const refused = new Refused(409, { title: "Changed", detail: "Changed by someone else.", status: 409 });
  it("is told in the server's words, or plainly where there are none", () => {
    expect(reason(refused)).toBe("Changed by someone else.");
    expect(reason(new TypeError("x is not a function"))).toBe("That did not work. Try again.");
    const { rerender } = render(<Trouble error={refused} />);
    expect(screen.getByRole("alert").textContent).toBe("Changed by someone else.");
    rerender(<Trouble error={new TypeError("x is not a function")} />);
    expect(screen.getByRole("alert").textContent).toBe("Something went wrong. Try again.");
    rerender(<Trouble error={undefined} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });
});

describe("a choice of a few", () => {
  it("says which is chosen and hands on another", async () => {
    const choose = vi.fn();
    render(
      <Seg
        label="Size"
        value="small"
        onChange={choose}
        options={[
          ["small", "Small"],
          ["large", "Large"],
        ]}
      />,
    );
    expect(screen.getByRole("radio", { name: "Small" }).getAttribute("aria-checked")).toBe("true");
    await userEvent.click(screen.getByRole("radio", { name: "Large" }));
    expect(choose).toHaveBeenCalledWith("large");
  });
});

describe("putting a list in order", () => {
  const t = told([
    { id: 3, name: "Monday" },
    { id: 7, name: "Pipeline" },
  ]);
  const event = (active: number | string, over?: number) =>
    ({ active: { id: active }, over: over === undefined ? null : { id: over } }) as never;
  it("is told by names and places", () => {
    expect(t.onDragStart(event(3))).toBe("Monday is picked up.");
    expect(t.onDragOver(event(3, 7))).toBe("Monday is at place 2 of 2.");
    expect(t.onDragEnd(event(3, 7))).toBe("Monday stands at place 2 of 2.");
    expect(t.onDragEnd(event(3))).toBe("Monday stays where it was.");
    expect(t.onDragCancel(event(7))).toBe("Pipeline stays where it was.");
    expect(told([], (id) => `new ${id}`).onDragStart(event("value"))).toBe("new value is picked up.");
  });
});

describe("the versions of something", () => {
  const list = [3, 2, 1].map((version) => ({
    version,
    at: 1_778_750_000,
    who: "Maite Corrie",
    change: [`step ${version}`],
  }));
  const show = (mayBring: boolean) => {
    const acts = { see: vi.fn(), bring: vi.fn(), close: vi.fn() };
    render(
      <VersionList
        title="What it was"
        list={list}
        now={3}
        mayBring={mayBring}
        onSee={acts.see}
        onBring={acts.bring}
        onClose={acts.close}
      />,
    );
    return acts;
  };

  it("can each be seen, which closes the list, and brought back, which does not", async () => {
    const acts = show(true);
    expect(screen.getAllByText("Maite Corrie")).toHaveLength(3);
    expect(screen.getAllByRole("button", { name: "See it" })).toHaveLength(2);
    await userEvent.click(screen.getAllByRole("button", { name: "Bring it back" })[1]);
    expect(acts.bring).toHaveBeenCalledWith(list[2]);
    expect(acts.close).not.toHaveBeenCalled();
    await userEvent.click(screen.getAllByRole("button", { name: "See it" })[0]);
    expect(acts.see).toHaveBeenCalledWith(list[1]);
    expect(acts.close).toHaveBeenCalledOnce();
  });

  it("are only seen by those who may not change it", () => {
    show(false);
    expect(screen.queryByRole("button", { name: "Bring it back" })).toBeNull();
  });
});
