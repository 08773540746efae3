import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { SchemaInfo, Schemas } from "../api/client";
import { PeriodPicker } from "../fields/PeriodPicker";
import { Spread } from "../fields/Spread";
import { Held, serving, show } from "../testing";

type Within = Schemas["MainPeriod"]["within"];
const day = (from: string, to: string, dates: string, today = "in") => ({
  from,
  to,
  dates,
  today,
  note: today === "in" ? "Today is in it." : "Today is not in it.",
});
const schema = {
  types: [],
  periods: [
    { word: "this_month", label: "this month", ...day("2026-05-01", "2026-05-31", "1 May – 31 May 2026") },
    { word: "last_month", label: "last month", ...day("2026-04-01", "2026-04-30", "1 Apr – 30 Apr 2026", "after") },
  ],
} as unknown as SchemaInfo;

function pick(first?: Within) {
  const asked = serving({
    "GET /api/me": { id: 1, today: "2026-05-14" },
    "POST /api/period": ({ body }: { body: unknown }) => {
      const { from, to } = (body as { within: { from?: string; to?: string } }).within;
      if (body && (body as { within: unknown }).within === "this_month")
        return day("2026-05-01", "2026-05-31", "as asked");
      return day(from ?? "2026-04-15", to ?? "2026-05-14", "as asked");
    },
  });
  const seen = vi.fn();
  show(
    <Held first={first} onChange={seen}>
      {(within, change) => <PeriodPicker schema={schema} value={within} onChange={change} />}
    </Held>,
  );
  return { asked, last: () => seen.mock.lastCall?.[0] as Within };
}

const marked = () => [...document.querySelectorAll(".bg-amber-soft:not(.pick)")].map((e) => e.textContent);

describe("choosing a period", () => {
  it("takes a word, with its days on the calendar, without asking the server", async () => {
    const { asked, last } = pick();
    await userEvent.click(screen.getByRole("option", { name: /last month/ }));
    expect(last()).toBe("last_month");
    expect(await screen.findByText("Today is not in it.")).toBeTruthy();
    expect(screen.getByText("April 2026")).toBeTruthy();
    expect(marked()).toHaveLength(30);
    await userEvent.click(screen.getByRole("button", { name: "Later months" }));
    expect(screen.getByText("June 2026")).toBeTruthy();
    expect(marked()).toEqual([]);
    expect(asked.map((a) => a.path)).toEqual(["/api/me"]);
  });

  it("takes a number of units, with or without the current one, and only a number", async () => {
    const { last } = pick();
    await userEvent.click(screen.getByRole("radio", { name: "Rolling" }));
    const count = screen.getByRole("textbox", { name: "How many" });
    expect(last(), "what is shown is in force").toEqual({ last: 30, unit: "day" });
    await userEvent.clear(count);
    expect(last()).toEqual({ last: 30, unit: "day" });
    await userEvent.type(count, "6");
    expect(last()).toEqual({ last: 6, unit: "day" });
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Unit" }), "week");
    expect(last()).toEqual({ last: 6, unit: "week" });
    await userEvent.click(screen.getByRole("checkbox", { name: "the current week included" }));
    expect(last()).toEqual({ last: 6, unit: "week", current: false });
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Last or next" }), "next");
    expect(last()).toEqual({ next: 6, unit: "week", current: false });
    await userEvent.type(count, "x");
    expect(last()).toEqual({ next: 6, unit: "week", current: false });
  });

  it("begins two dates with the days that the period has come to", async () => {
    const { last } = pick("this_month");
    await userEvent.click(screen.getByRole("radio", { name: "Dates" }));
    await vi.waitFor(() => expect(last()).toEqual({ from: "2026-05-01", to: "2026-05-31" }));
    expect(screen.getByLabelText<HTMLInputElement>("First day").value).toBe("2026-05-01");
  });

  it("is walked by the arrow keys", async () => {
    const { last } = pick("this_month");
    screen.getByRole("option", { name: /this month/ }).focus();
    await userEvent.keyboard("{ArrowDown}{Enter}");
    expect(last()).toBe("last_month");
    screen.getByRole("radio", { name: "Named" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(last()).toEqual({ last: 30, unit: "day" });
  });

  it("takes two days from the calendar, and begins anew with a day before the first", async () => {
    const { last } = pick({ from: "2026-05-04", to: "2026-05-08" });
    await userEvent.click(await screen.findByRole("button", { name: "2026-05-11" }));
    expect(last()).toEqual({ from: "2026-05-11" });
    await userEvent.click(await screen.findByRole("button", { name: "2026-05-06" }));
    expect(last()).toEqual({ from: "2026-05-06" });
    await userEvent.click(await screen.findByRole("button", { name: "2026-05-20" }));
    expect(last()).toEqual({ from: "2026-05-06", to: "2026-05-20" });
  });

  it("marks today, and shows a period that is there already as it was set", async () => {
    pick({ last: 30, unit: "day", current: false });
    expect(screen.getByRole<HTMLInputElement>("textbox", { name: "How many" }).value).toBe("30");
    expect(screen.getByRole<HTMLInputElement>("checkbox", { name: "today included" }).checked).toBe(false);
    const calendar = (await screen.findByText("May 2026")).parentElement as HTMLElement;
    expect(within(calendar).getByText("14").className).toContain("font-bold");
  });
});

describe("the edges of bands", () => {
  const bins = [
    { from: "", to: "10000", count: 4 },
    { from: "10000", to: "20000", count: 9 },
    { from: "20000", to: "", count: 1 },
  ];
  it("are set between two bars and taken away again, in order", async () => {
    serving({ "GET /api/spread": bins });
    const change = vi.fn();
    const { rerender } = show(<Spread start="deals" path="value" edges={["20000"]} onChange={change} />);
    await userEvent.click(await screen.findByRole("button", { name: "Edge at 10,000" }));
    expect(change).toHaveBeenLastCalledWith(["10000", "20000"]);
    rerender(<Spread start="deals" path="value" edges={["10000.00", "20000"]} onChange={change} />);
    expect(screen.getByRole("button", { name: "Edge at 10,000" }).getAttribute("aria-pressed")).toBe("true");
    await userEvent.click(screen.getByRole("button", { name: "Edge at 10,000" }));
    expect(change).toHaveBeenLastCalledWith(["20000"]);
  });

  it("are not asked for where a field is worked out in the report", () => {
    const asked = serving({});
    const { container } = show(<Spread start="deals" path="own.age" edges={[]} onChange={vi.fn()} />);
    expect(container.innerHTML).toBe("");
    expect(asked).toEqual([]);
  });
});
