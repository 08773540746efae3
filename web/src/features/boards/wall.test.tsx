import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Wall } from "./Wall";

const panels = [1, 2, 3].map((report) => ({ report, x: 0, y: 0, w: 6, h: 9 }));

describe("a board on a wall", () => {
  const leave = vi.fn();
  beforeEach(() => {
    vi.useFakeTimers();
    leave.mockClear();
    render(<Wall title="Monday" panels={panels} draw={(p) => <p>panel {p.report}</p>} onClose={leave} />);
  });
  afterEach(() => void vi.useRealTimers());
  const pass = (seconds: number) => act(() => vi.advanceTimersByTime(seconds * 1000));
  const shows = (n: number) => expect(screen.getByText(`panel ${n}`)).toBeTruthy();

  it("turns slowly, and begins again after the last", () => {
    shows(1);
    pass(16);
    shows(2);
    pass(15);
    shows(3);
    pass(15);
    shows(1);
  });

  it("is held and goes on", () => {
    fireEvent.keyDown(window, { key: " " });
    pass(60);
    shows(1);
    fireEvent.click(screen.getByRole("button", { name: "Go on turning" }));
    pass(16);
    shows(2);
  });

  it("is turned by keys both ways, each panel having its whole time, and left", () => {
    pass(10);
    fireEvent.keyDown(window, { key: "ArrowRight" });
    pass(10);
    shows(2);
    fireEvent.keyDown(window, { key: "ArrowLeft" });
    fireEvent.keyDown(window, { key: "ArrowLeft" });
    shows(3);
    expect(screen.getByText("3 of 3")).toBeTruthy();
    fireEvent.keyDown(window, { key: "Escape" });
    expect(leave).toHaveBeenCalledOnce();
  });
});
