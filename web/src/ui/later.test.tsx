import { render, screen } from "@testing-library/react";
import { Component, type ReactNode } from "react";
import { expect, it, vi } from "vitest";
import { later } from "./later";

const Part = ({ name }: { name: string }) => <p>{name} is here</p>;

it("draws a part once it is loaded, at once where it was before, and loads it once", async () => {
  const load = vi.fn(async () => Part);
  const Late = later(load);
  expect(Late.isReady()).toBe(false);
  const { unmount } = render(<Late name="Auk" />);
  expect(await screen.findByText("Auk is here")).toBeTruthy();
  unmount();
  render(<Late name="Tern" />);
  expect(screen.getByText("Tern is here")).toBeTruthy();
  await Late.ready();
  expect(load).toHaveBeenCalledTimes(1);
});

class Caught extends Component<{ children: ReactNode }, { said?: string }> {
  state: { said?: string } = {};
  static getDerivedStateFromError = (e: Error) => ({ said: e.message });
  render = () => this.state.said ?? this.props.children;
}

it("throws where it is drawn what could not be loaded, and asks for it again the next time", async () => {
  const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
  const load = vi.fn().mockRejectedValueOnce(new Error("no connection")).mockResolvedValueOnce(Part);
  const Late = later<{ name: string }>(load);
  const { unmount } = render(
    <Caught>
      <Late name="Auk" />
    </Caught>,
  );
  expect(await screen.findByText("no connection")).toBeTruthy();
  unmount();
  render(<Late name="Auk" />);
  expect(await screen.findByText("Auk is here")).toBeTruthy();
  quiet.mockRestore();
});
