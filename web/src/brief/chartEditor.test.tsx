import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Brief } from "../api/client";
import { Held, serving, show } from "../testing";
import { ChartEditor } from "./ChartEditor";

const seen = vi.fn();
const chart = () => seen.mock.lastCall?.[0].chart as NonNullable<Brief["chart"]>;
const Editor = ({ first }: { first: Brief }) => (
  <Held first={first} onChange={seen}>
    {(brief, change) => <ChartEditor brief={brief} onChange={change} />}
  </Held>
);
const stages = (kind: string, more = {}): Brief => ({
  version: 1,
  start: "deals",
  groups: [{ field: "stage" }],
  chart: { kind, ...more },
});

beforeEach(() => {
  seen.mockClear();
  serving({
    "POST /api/answer": {
      kinds: [
        { kind: "funnel", name: "a funnel" },
        { kind: "bar", name: "a bar" },
        { kind: "heat", name: "a heat grid", lacks: "a second group" },
      ],
      summaries: [
        { key: "n", label: "Deals" },
        { key: "v", label: "Sum of value" },
      ],
      groups: [{ field: "stage", label: "stage" }],
    },
    "GET /api/styles": [
      { key: "quiet", name: "Quiet", mayChange: true, style: { palette: ["#111111", "#222222", "#333333"] } },
    ],
    "GET /api/settings/style": { palette: [] },
    "POST /api/settings/palette": [],
  });
});

describe("how a result is drawn", () => {
  it("offers the kinds in the server's order, those that lack something with what they lack", async () => {
    show(<Editor first={stages("bar")} />);
    expect((await screen.findAllByRole("option", { name: /funnel|bar|heat/i })).map((o) => o.textContent)).toEqual([
      "Funnel",
      "Bar",
      "Heat gridlacks a second group",
    ]);
    await userEvent.click(screen.getByRole("option", { name: /Heat grid/ }));
    expect(seen, "one that lacks something is not taken").not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole("option", { name: "Funnel" }));
    expect(chart()).toEqual({ kind: "funnel" });
  });

  it("says how many went on for a funnel of stages alone, and stacks what can be stacked", async () => {
    const { unmount } = show(<Editor first={stages("funnel")} />);
    await userEvent.click(await screen.findByRole("checkbox", { name: "how many went on, from the history" }));
    expect(chart()).toEqual({ kind: "funnel", steps: true });
    expect(screen.queryByRole("checkbox", { name: "stacked" })).toBeNull();
    unmount();
    show(<Editor first={stages("bar")} />);
    await userEvent.click(await screen.findByRole("checkbox", { name: "stacked" }));
    await userEvent.click(screen.getByRole("radio", { name: "Shares" }));
    expect(chart()).toEqual({ kind: "bar", stacked: true, measure: "share" });
    await userEvent.click(screen.getByRole("checkbox", { name: "stacked to 100 %" }));
    await userEvent.click(screen.getByRole("radio", { name: "Amounts" }));
    expect(chart(), "what is as it comes is not written down").toEqual({ kind: "bar" });
  });

  it("chooses what each part of a picture of two measures draws", async () => {
    show(<Editor first={stages("column_line")} />);
    await userEvent.selectOptions(await screen.findByRole("combobox", { name: "line of" }), "Deals");
    expect(chart().values?.[1]).toBe("n");
  });

  it("takes looks, a style and words, and lets go of them", async () => {
    show(<Editor first={stages("bar")} />);
    await userEvent.click(screen.getByText("Style", { selector: "summary" }));
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Legend" }), "none");
    await userEvent.selectOptions(await screen.findByRole("combobox", { name: "Style" }), "Quiet");
    expect(chart()).toEqual({ kind: "bar", legend: "none", style: "quiet" });
    fireEvent.change(screen.getByRole("textbox", { name: "Heading" }), { target: { value: "Where deals stand" } });
    expect(chart().heading).toBe("Where deals stand");
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Legend" }), "the style’s");
    fireEvent.change(screen.getByRole("textbox", { name: "Heading" }), { target: { value: "" } });
    expect(chart()).toEqual({ kind: "bar", style: "quiet" });
  });

  it("hands on only a height that fits, and ends of the axis that are numbers", () => {
    show(<Editor first={stages("bar", { legend: "none" })} />);
    const height = screen.getByRole("spinbutton", { name: "Height" });
    fireEvent.change(height, { target: { value: "5" } });
    expect(seen).not.toHaveBeenCalled();
    fireEvent.change(height, { target: { value: "500" } });
    expect(chart().height).toBe(500);
    const from = screen.getByRole("textbox", { name: "Values from" });
    fireEvent.change(from, { target: { value: "-" } });
    expect(chart().from).toBeUndefined();
    fireEvent.change(from, { target: { value: "-10.5" } });
    expect(chart().from).toBe("-10.5");
  });
});
