import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, it } from "vitest";
import { serving, show } from "../../testing";
import { MePage } from "./MePage";

const ways = [
  { tag: "en-GB", example: "1,234.50" },
  { tag: "de-DE", example: "1.234,50" },
];
const dayWays = [
  { tag: "words", example: "14 May 2026" },
  { tag: "dots", example: "14.05.2026" },
];
const figures = { tag: "en-GB", days: "words", own: "", ownDays: "", ways, dayWays };
let kept = figures;
beforeEach(() => {
  kept = figures;
});
const asked = () =>
  serving({
    "GET /api/me": { name: "Osric Jarrow", role: "reader", demo: true },
    "GET /api/settings/figures": () => kept,
    "PUT /api/me/figures": ({ body }: { body: unknown }) => {
      const to = body as { tag: string; days: string };
      kept = { ...figures, own: to.tag, ownDays: to.tag ? to.days : "" };
      return null;
    },
  });

it("writes figures as for everyone until one has a way of one's own, and then again", async () => {
  const list = asked();
  show(<MePage />);
  const way = () => screen.getByRole("combobox", { name: "How figures are written" }) as HTMLSelectElement;
  await screen.findByRole("option", { name: "as for everyone: 1,234.50" });
  expect(screen.queryByRole("combobox", { name: "How days are written" })).toBeNull();
  await userEvent.selectOptions(way(), "1.234,50");
  const sent = () => list.filter((a) => a.method === "PUT").at(-1)?.body;
  await waitFor(() => expect(sent()).toEqual({ tag: "de-DE", days: "words" })); // days as everyone's at first
  const days = await screen.findByRole("combobox", { name: "How days are written" });
  await userEvent.selectOptions(days, "14.05.2026");
  await waitFor(() => expect(sent()).toEqual({ tag: "de-DE", days: "dots" }));
  await waitFor(() =>
    expect((screen.getByRole("combobox", { name: "How days are written" }) as HTMLSelectElement).value).toBe("dots"),
  );
  await userEvent.selectOptions(way(), "as for everyone: 1,234.50");
  await waitFor(() => expect(sent()).toEqual({ tag: "", days: "dots" }));
  await waitFor(() => expect(screen.queryByRole("combobox", { name: "How days are written" })).toBeNull());
});
