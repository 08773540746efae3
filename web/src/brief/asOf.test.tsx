import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import type { Brief } from "../api/client";
import { Held, serving, show } from "../testing";
import { AsOfEditor } from "./AsOfEditor";

function edited(first: Partial<Brief>) {
  serving({ "GET /api/me": { today: "2026-05-14" } });
  const change = vi.fn();
  show(
    <Held first={{ version: 1 as const, start: "deals", ...first } as Brief} onChange={change}>
      {(brief, set) => <AsOfEditor brief={brief} onChange={set} />}
    </Held>,
  );
  return change;
}
const bare = { version: 1, start: "deals" };
const radio = (name: string) => screen.getByRole("radio", { name }) as HTMLInputElement;

it("takes the records as they were at a day, and relative periods by it only where that is said", async () => {
  const change = edited({});
  expect(radio("now, as they are").checked).toBe(true);
  expect(screen.queryByRole("checkbox")).toBeNull();
  await userEvent.click(radio("the end of last month"));
  expect(change).toHaveBeenLastCalledWith({ ...bare, asOf: "last_month" });
  await userEvent.click(screen.getByRole("checkbox"));
  expect(change).toHaveBeenLastCalledWith({ ...bare, asOf: "last_month", periods: "then" });
  // Another day keeps it; now has none.
  await userEvent.click(radio("the end of yesterday"));
  expect(change).toHaveBeenLastCalledWith({ ...bare, asOf: "yesterday", periods: "then" });
  await userEvent.click(radio("now, as they are"));
  expect(change).toHaveBeenLastCalledWith(bare);
});

it("begins a day of one's choice with today, and never goes without one", async () => {
  const change = edited({});
  const day = screen.getByLabelText("The day") as HTMLInputElement;
  await waitFor(() => expect(day.max).toBe("2026-05-14")); // what will be nobody knows
  await userEvent.click(radio("the end of a day"));
  expect(change).toHaveBeenLastCalledWith({ ...bare, asOf: "2026-05-14" });
  await userEvent.clear(day);
  expect(change).toHaveBeenCalledTimes(1);
});

it("shows a day that was said in another way, and leaves it until another is picked", async () => {
  const change = edited({ asOf: { ago: 3, unit: "month" } as Brief["asOf"] });
  expect(radio("3 months ago").checked).toBe(true);
  expect(radio("now, as they are").checked).toBe(false);
  expect(change).not.toHaveBeenCalled();
  await userEvent.click(radio("the end of last week"));
  expect(screen.queryByRole("radio", { name: "3 months ago" })).toBeNull();
});
