import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Drawing } from "../api/client";
import { Chart } from "./Chart";

const paint = (colour: string) => ({
  colour,
  text: `on ${colour}`,
  onInk: `light ${colour}`,
  textOnInk: `on light ${colour}`,
});

const stage = vi.hoisted(() => ({ draw: vi.fn(), highlight: vi.fn(), calm: vi.fn(), dispose: vi.fn(), made: vi.fn() }));
vi.mock("./engine", () => ({
  stage: (_: HTMLElement, onMark: (series: number, at: number, more: boolean) => void) => {
    stage.made(onMark);
    return stage;
  },
}));

const point = (say: string, key: string, value = 1) => ({
  value,
  label: say,
  share: "",
  say,
  weight: 0,
  mark: { rows: [key], across: [] },
});
const drawing = (more: Partial<Drawing> = {}): Drawing => ({
  kind: "column",
  title: "Deals by stage",
  categories: ["Enquiry", "Design"].map((label) => ({ label, detail: "", total: "", ...paint("c") })),
  series: [
    {
      name: "Deals",
      ...paint("c"),
      form: "",
      points: [point("Enquiry: 3", "=Enquiry"), point("Design: 5", "=Design")],
    },
    {
      name: "the year before",
      ...paint("g"),
      form: "ghost",
      points: [point("Enquiry: 2 before", "=Enquiry"), point("Design: 4 before", "=Design")],
    },
  ],
  ticks: [],
  second: [],
  notes: ["the first 2 of 9 groups are drawn"],
  total: "8",
  unit: "",
  stacked: false,
  apart: true,
  timed: false,
  legend: "top",
  guides: "values",
  labels: "",
  ...more,
});

describe("the marks of a picture", () => {
  const open = vi.fn();
  beforeEach(() => {
    for (const f of [open, ...Object.values(stage)]) f.mockClear();
  });

  it("are read out, but not those of the time before, which nothing stands behind", () => {
    render(<Chart drawing={drawing()} height={300} onMark={open} />);
    expect(screen.getByRole("figure", { name: "Deals by stage" })).toBeTruthy();
    expect(screen.getAllByRole("button").map((b) => b.textContent)).toEqual(["Enquiry: 3", "Design: 5"]);
    expect(screen.getByText("the first 2 of 9 groups are drawn")).toBeTruthy();
  });

  it("are walked with the arrow keys, shown where they are, and opened", async () => {
    render(<Chart drawing={drawing()} height={300} onMark={open} />);
    await waitFor(() => expect(stage.draw).toHaveBeenCalled());
    const [first, second] = screen.getAllByRole("button");
    expect([first.tabIndex, second.tabIndex]).toEqual([0, -1]);
    first.focus();
    expect(stage.highlight).toHaveBeenLastCalledWith(0, 0);
    fireEvent.keyDown(first, { key: "ArrowRight" });
    expect(document.activeElement).toBe(second);
    expect(stage.highlight).toHaveBeenLastCalledWith(0, 1);
    fireEvent.keyDown(second, { key: "ArrowRight" });
    expect(document.activeElement, "the last stays").toBe(second);
    fireEvent.click(second);
    expect(open).toHaveBeenCalledWith([{ rows: ["=Design"], across: [] }], "Design: 5");
    second.blur();
    expect(stage.calm).toHaveBeenCalled();
  });

  it("are gathered with Ctrl, opened together, let go one by one or all", () => {
    render(<Chart drawing={drawing()} height={300} onMark={open} />);
    const [first, second] = screen.getAllByRole("button");
    fireEvent.keyDown(first, { key: "Enter", ctrlKey: true });
    fireEvent.click(second, { ctrlKey: true });
    expect(open).not.toHaveBeenCalled();
    expect(screen.getByRole("status").textContent).toContain("Enquiry: 3; Design: 5");
    fireEvent.click(screen.getByRole("button", { name: "Show the records" }));
    expect(open).toHaveBeenCalledWith(
      [
        { rows: ["=Enquiry"], across: [] },
        { rows: ["=Design"], across: [] },
      ],
      "Enquiry: 3; Design: 5",
    );
    fireEvent.click(second, { ctrlKey: true });
    expect(screen.getByRole("status").textContent).toContain("Enquiry: 3");
    expect(screen.getByRole("status").textContent).not.toContain("Design: 5");
    fireEvent.click(screen.getByRole("button", { name: "Let go" }));
    expect(screen.queryByRole("status")).toBeNull();
  });

  it("lose what was gathered when another picture comes", () => {
    const { rerender } = render(<Chart drawing={drawing()} height={300} onMark={open} />);
    fireEvent.click(screen.getAllByRole("button")[0], { ctrlKey: true });
    rerender(<Chart drawing={drawing({ total: "9" })} height={300} onMark={open} />);
    expect(screen.queryByRole("status")).toBeNull();
  });

  it("are drawn by one stage from picture to picture, which is put away with the last", async () => {
    const { rerender, unmount } = render(<Chart drawing={drawing()} height={300} onMark={open} />);
    await waitFor(() => expect(stage.draw).toHaveBeenCalledOnce());
    const next = drawing({ kind: "bar" });
    rerender(<Chart drawing={next} height={300} share onMark={open} />);
    expect(stage.draw).toHaveBeenLastCalledWith(next, true, undefined);
    rerender(<Chart drawing={next} share height={300} lit={[{ rows: ["=Design"], across: [] }]} onMark={open} />);
    expect(stage.draw).toHaveBeenLastCalledWith(next, true, [{ rows: ["=Design"], across: [] }]);
    expect(stage.made).toHaveBeenCalledOnce();
    // A mark that is pressed in the picture is that of the picture which is there now.
    stage.made.mock.lastCall?.[0](0, 1, false);
    expect(open).toHaveBeenLastCalledWith([{ rows: ["=Design"], across: [] }], "Design: 5");
    stage.made.mock.lastCall?.[0](1, 1, false);
    expect(open, "nothing stands behind the time before").toHaveBeenCalledOnce();
    unmount();
    expect(stage.dispose).toHaveBeenCalledOnce();
  });

  it("are not there where nothing is to be drawn", () => {
    render(<Chart drawing={drawing({ categories: [], series: [] })} height={300} onMark={open} />);
    expect(screen.getByText(/No record meets all conditions/)).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("a figure", () => {
  it("says its number, how it changed, how far it has come, and opens all its records", () => {
    const open = vi.fn();
    render(
      <Chart
        height={200}
        onMark={open}
        drawing={drawing({
          kind: "figure",
          total: "€4,740,000.00",
          change: { before: "€4,872,000.00", text: "−€132,000.00 · −2.7 %", way: -1 },
          progress: {
            total: "€4,740,000.00",
            target: "€5,700,000.00",
            share: "83.2 %",
            missing: "€960,000.00",
            part: 0.832,
            of: "Won value",
          },
          source: "From the deals of the week",
        })}
      />,
    );
    expect(screen.getByText("−€132,000.00 · −2.7 %").className).toContain("text-rust");
    expect(screen.getByText("from €4,872,000.00", { exact: false })).toBeTruthy();
    expect(screen.getByText(/83.2 %/)).toBeTruthy();
    expect(screen.getByText("From the deals of the week")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "All: €4,740,000.00" }));
    expect(open).toHaveBeenCalledWith([{ rows: [], across: [] }], "All");
  });
});
