import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import type { Brief, SchemaInfo } from "../api/client";
import { field, Held, recordType, show } from "../testing";
import { MoneyEditor } from "./MoneyEditor";

const deals = recordType(
  "deals",
  "Deals",
  "deal",
  [
    field("name", "Name", "text"),
    field("value", "Value", "money"),
    field("closed", "Closed", "date"),
    field("expected_close", "Expected close", "date"),
  ],
  { money: "currency", rated: ["closed", "expected_close"] },
);
const lines = recordType(
  "lines",
  "Lines",
  "line",
  [field("amount", "Amount", "money"), field("deal", "Deal", "link", [], "deals")],
  { money: "deal.currency", rated: ["deal.closed"] },
);
const schema = { code: "EUR", several: true, types: [deals, lines, recordType("people", "People", "person", [])] };
const bare = { version: 1, start: "deals" };
const sums = [{ key: "v", fn: "sum", of: "value" }];

function edited(first: Partial<Brief>) {
  const change = vi.fn();
  show(
    <Held first={{ ...bare, ...first } as Brief} onChange={change}>
      {(brief, set) => <MoneyEditor schema={schema as unknown as SchemaInfo} brief={brief} onChange={set} />}
    </Held>,
  );
  return change;
}

it("groups by currency what is added up as recorded, once, and leaves the group when it is converted again", async () => {
  const change = edited({ summaries: sums, groups: [{ field: "name" }] } as Partial<Brief>);
  await userEvent.click(screen.getByRole("radio", { name: "As recorded, by currency" }));
  const recorded = {
    ...bare,
    summaries: sums,
    groups: [{ field: "currency" }, { field: "name" }],
    money: { as: "recorded" },
  };
  expect(change).toHaveBeenLastCalledWith(recorded);
  expect(screen.getByText(/nowhere added up across them/)).toBeTruthy();
  await userEvent.click(screen.getByRole("radio", { name: "In EUR" }));
  expect(change).toHaveBeenLastCalledWith({ ...recorded, money: undefined });
  await userEvent.click(screen.getByRole("radio", { name: "As recorded, by currency" }));
  expect(change.mock.lastCall?.[0].groups).toEqual(recorded.groups);
});

it("finds the currency of amounts behind links", async () => {
  const change = edited({
    start: "lines",
    summaries: [
      { key: "v", fn: "sum", of: "amount" },
      { key: "d", fn: "max", of: "deal.value" },
    ],
  } as Partial<Brief>);
  await userEvent.click(screen.getByRole("radio", { name: "As recorded, by currency" }));
  // Both are the deal's, said in the same way.
  expect(change.mock.lastCall?.[0].groups).toEqual([{ field: "deal.currency" }]);
});

it("takes the rates of another date for a record type, and goes back to the usual ones", async () => {
  const change = edited({});
  const of = screen.getByLabelText("Deals") as HTMLSelectElement;
  expect(of.selectedOptions[0].text).toBe("closed, else expected close, else today");
  await userEvent.selectOptions(of, "expected close, else today");
  expect(change).toHaveBeenLastCalledWith({ ...bare, money: { rates: [{ of: "deals", at: ["expected_close"] }] } });
  await userEvent.selectOptions(of, "today");
  expect(change).toHaveBeenLastCalledWith({ ...bare, money: { rates: [{ of: "deals", at: [] }] } });
  await userEvent.selectOptions(of, "closed, else expected close, else today");
  expect(change).toHaveBeenLastCalledWith(bare);
});

it("shows dates that were said in another way", () => {
  edited({ money: { rates: [{ of: "deals", at: ["expected_close", "closed"] }] } } as Partial<Brief>);
  const of = screen.getByLabelText("Deals") as HTMLSelectElement;
  expect(of.selectedOptions[0].text).toBe("expected close, else closed, else today");
});
