import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { SchemaInfo } from "../../api/client";
import type { Filters } from "../../api/panels";
import { field, Held, recordType, serving, show } from "../../testing";
import { FilterBar } from "./FilterBar";

const schema = {
  types: [recordType("deals", "Deals", "deal", [field("stage", "Stage", "choice"), field("value", "Value", "money")])],
  periods: [
    {
      word: "this_month",
      label: "this month",
      dates: "1 May – 31 May 2026",
      from: "2026-05-01",
      to: "2026-05-31",
      today: "in",
      note: "",
    },
  ],
  readers: "people",
} as unknown as SchemaInfo;

/** The bar over a server that says filters in words of its own. */
function bar(first: Filters, kept: Filters = {}, mayKeep = true) {
  const asked = serving({
    "POST /api/filters": ({ body }: { body: unknown }) => {
      const f = (body as { filters: Filters }).filters;
      return {
        whose: f.whose ? "Aldo Marlow" : "",
        period: f.period ? "in the last 30 days, today included" : "",
        dates: f.period ? "15 Apr – 14 May 2026" : "",
        fields: (f.fields ?? []).map((x) => `deals' ${x.field} is ${x.values?.join(" or ")}`),
      };
    },
    "GET /api/values": [
      { value: "Enquiry", label: "Enquiry", count: 3 },
      { value: "Design", label: "Design", count: 1 },
    ],
    "GET /api/me": { id: 1, today: "2026-05-14" },
    "GET /api/subjects": [],
  });
  const change = vi.fn();
  const keep = vi.fn();
  show(
    <Held first={first} onChange={change}>
      {(value, next) => (
        <FilterBar
          schema={schema}
          starts={["deals"]}
          value={value}
          kept={kept}
          mayKeep={mayKeep}
          onChange={next}
          onKeep={keep}
        />
      )}
    </Held>,
  );
  return { asked, keep, last: () => change.mock.lastCall?.[0] as Filters };
}
const sentence = () => screen.getByRole("group", { name: "What this dashboard is read by" }).textContent;

describe("what a dashboard is read by", () => {
  it("says that nothing is narrowed without asking anybody", () => {
    const { asked } = bar({});
    expect(sentence()).toBe("Of everyone · each in its own period · all records · now");
    expect(asked).toEqual([]);
  });

  it("says whose, which period and what else with the names that the server knows", async () => {
    bar({
      whose: { people: ["3"] },
      period: { last: 30, unit: "day" },
      fields: [{ type: "deals", field: "stage", values: ["Enquiry"] }],
    });
    await waitFor(() =>
      expect(sentence()).toContain(
        "Of Aldo Marlow · in the last 30 days, today included (15 Apr – 14 May 2026) · where deals' stage is Enquiry another condition…",
      ),
    );
  });

  it("takes a word for the period, and gives each panel its own again", async () => {
    const { last } = bar({});
    await userEvent.click(screen.getByRole("button", { name: "period: each in its own period" }));
    await userEvent.click(screen.getByRole("option", { name: /this month/ }));
    expect(last()).toEqual({ period: "this_month" });
    expect(screen.queryByRole("dialog"), "what is chosen is done").toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /^period: / }));
    await userEvent.click(screen.getByRole("button", { name: "Each in its own period" }));
    expect(last()).toEqual({});
  });

  it("goes from one part to another with one press", async () => {
    bar({});
    await userEvent.click(screen.getByRole("button", { name: "whose: everyone" }));
    await userEvent.click(screen.getByRole("button", { name: "period: each in its own period", hidden: true }));
    expect(await screen.findByRole("dialog", { name: "period" })).toBeTruthy();
    expect(screen.queryByRole("dialog", { name: "whose" })).toBeNull();
  });

  it("narrows by a field that is found and its values, and by no more when the last is let go", async () => {
    const { last } = bar({});
    await userEvent.click(screen.getByRole("button", { name: "narrow by: all records" }));
    expect(screen.queryByRole("option", { name: /Value/ }), "an amount has no values to pick").toBeNull();
    await userEvent.type(
      screen.getByRole("combobox", { name: "Find a field to narrow the panels by" }),
      "stage{Enter}",
    );
    await userEvent.click(await screen.findByRole("checkbox", { name: /Design/ }));
    expect(last()).toEqual({ fields: [{ type: "deals", field: "stage", values: ["Design"] }] });
    await userEvent.keyboard("{Escape}");
    await userEvent.click(await screen.findByRole("button", { name: "stage: deals' stage is Design" }));
    await userEvent.click(await screen.findByRole("checkbox", { name: /Design/ }));
    expect(last()).toEqual({});
  });

  it("goes back to how it was saved, or is saved as it is by those who may", async () => {
    const kept: Filters = { period: "this_month" };
    const { last, keep } = bar({ whose: "mine" }, kept);
    await userEvent.click(screen.getByRole("button", { name: "open like this from now on" }));
    expect(keep).toHaveBeenCalledOnce();
    await userEvent.click(screen.getByRole("button", { name: "back to as saved" }));
    expect(last()).toEqual(kept);
    expect(screen.queryByRole("button", { name: "back to as saved" })).toBeNull();
  });

  it("offers no saving to those who may not", () => {
    bar({ whose: "mine" }, {}, false);
    expect(screen.getByRole("button", { name: "back to as saved" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "open like this from now on" })).toBeNull();
  });
});
