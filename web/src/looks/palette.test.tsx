import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { Held, serving, show } from "../testing";
import { PaletteEditor } from "./PaletteEditor";

const seen = vi.fn();
const Editor = ({ first }: { first: string[] }) => (
  <Held first={first} onChange={seen}>
    {(colours, change) => <PaletteEditor colours={colours} onChange={change} />}
  </Held>
);
const house = ["#007C7D", "#CA8100", "#6D629F"];

describe("a palette", () => {
  it("is checked by the server as it is edited, a moment after the last change", async () => {
    const asked = serving({
      "POST /api/settings/palette": ({ body }: { body: unknown }) =>
        (body as { palette: string[] }).palette.includes("#007C70")
          ? [{ text: "The first two look alike to some readers.", colours: ["#007C70"] }]
          : [],
    });
    show(<Editor first={house} />);
    expect(await screen.findByText(/told apart by readers of any sight/)).toBeTruthy();
    const first = screen.getByLabelText("Colour 1");
    for (const value of ["#007c7a", "#007c75", "#007c70"]) fireEvent.change(first, { target: { value } });
    expect(seen).toHaveBeenLastCalledWith(["#007C70", "#CA8100", "#6D629F"]);
    expect(await screen.findByText("The first two look alike to some readers.")).toBeTruthy();
    expect(asked, "not for each step on the way").toHaveLength(2);
    expect(first.className).toContain("--rust");
  });

  it("has three colours at least and twelve at most", async () => {
    serving({ "POST /api/settings/palette": [] });
    show(<Editor first={house} />);
    expect(screen.queryByRole("button", { name: "take out" })).toBeNull();
    for (let n = 4; n <= 12; n++) await userEvent.click(screen.getByRole("button", { name: "One more" }));
    expect(screen.getAllByLabelText(/^Colour/)).toHaveLength(12);
    expect(screen.queryByRole("button", { name: "One more" })).toBeNull();
    await userEvent.click(screen.getAllByRole("button", { name: "take out" })[0]);
    expect(seen.mock.lastCall?.[0][0]).toBe("#CA8100");
    expect(screen.getByRole("button", { name: "One more" })).toBeTruthy();
  });
});
