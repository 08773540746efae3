import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { SchemaInfo, Tree } from "../api/client";
import { field, Held, recordType, serving, show } from "../testing";
import { TreeEditor } from "./TreeEditor";

const numbers = ["over", "under", "between", "empty"];
const schema = {
  types: [
    recordType(
      "deals",
      "Deals",
      "deal",
      [
        field("name", "Name", "text", ["contains", "any_of", "empty"]),
        field("status", "Status", "choice", ["any_of", "none_of", "empty"]),
        field("value", "Value", "money", numbers),
        field("cost", "Cost", "money", numbers),
        field("closed", "Closed", "date", ["within", "under", "empty"]),
      ],
      { backs: [{ key: "activities", label: "Activities", type: "activities", via: "deal" }] },
    ),
    recordType("activities", "Activities", "activity", [
      field("kind", "Kind", "choice", ["any_of"]),
      field("minutes", "Minutes", "number", numbers),
    ]),
  ],
  periods: [
    { word: "this_month", label: "this month", dates: "", from: "2026-05-01", to: "2026-05-31", today: "in", note: "" },
  ],
} as unknown as SchemaInfo;

const seen = vi.fn();
const last = () => seen.mock.lastCall?.[0] as Tree;
const edit = (first?: Tree) =>
  show(
    <Held first={first} onChange={seen}>
      {(value, change) => <TreeEditor schema={schema} start="deals" value={value} onChange={change} />}
    </Held>,
  );
const find = (text: string) =>
  userEvent.type(screen.getByRole("combobox", { name: "Find a field to narrow by" }), `${text}{Enter}`);
const box = (name: string) => screen.getByRole("textbox", { name });
const how = () => screen.getByRole("combobox", { name: "How it compares" });

beforeEach(() => {
  seen.mockClear();
  serving({
    "GET /api/me": { id: 1, today: "2026-05-14" },
    "GET /api/values": ["open", "won", "lost"].map((v, i) => ({ value: v, label: v, count: 9 - i })),
  });
});

describe("a condition on a field", () => {
  it("is picked from the values that there are, or pasted as a list", async () => {
    edit();
    await find("status");
    expect(seen, "nothing is asked before a value is there").not.toHaveBeenCalled();
    await userEvent.click(await screen.findByRole("checkbox", { name: /won/ }));
    expect(last()).toEqual({ field: "status", is: "any_of", values: ["won"] });
    fireEvent.paste(box("Find a value"), { clipboardData: { getData: () => "Open\nlost, gone" } });
    expect(last().values, "a value that there is not is kept as it was written").toEqual([
      "won",
      "open",
      "lost",
      "gone",
    ]);
    await userEvent.click(screen.getByRole("button", { name: "none" }));
    expect(last().values, "no value is no answer, the last one stands").toEqual(["won", "open", "lost", "gone"]);
  });

  it("is picked by Enter from the values of the words that stand there, once they are known", async () => {
    let known = () => {};
    serving({
      "GET /api/me": { id: 1, today: "2026-05-14" },
      "GET /api/values": ({ query }: { query: URLSearchParams }) =>
        query.get("search")
          ? new Promise((resolve) => {
              known = () => resolve([{ value: "lost", label: "lost", count: 7 }]);
            })
          : ["open", "lost"].map((v) => ({ value: v, label: v, count: 9 })),
    });
    edit();
    await find("status");
    await screen.findByRole("checkbox", { name: "open" });
    await userEvent.type(box("Find a value"), "l{Enter}");
    expect(seen, "open stands there for no words").not.toHaveBeenCalled();
    await act(async () => known());
    await waitFor(() => expect(last()).toEqual({ field: "status", is: "any_of", values: ["lost"] }));
  });

  it("takes two amounts, and only amounts", async () => {
    edit({ field: "value", is: "over", values: ["100"] });
    await userEvent.selectOptions(how(), "between");
    await userEvent.type(box("To"), "1,500");
    expect(last()).toEqual({ field: "value", is: "between", values: ["100", "1500"] });
    await userEvent.type(box("To"), ",5");
    expect(screen.getByText("An amount like 20000 or 1250.50")).toBeTruthy();
    expect(last().values, "what reads as no amount is not handed on").toEqual(["100", "1500"]);
  });

  it("is compared with another field of its kind, and with a value again", async () => {
    edit({ field: "value", is: "over", values: ["100"] });
    await userEvent.click(screen.getByRole("button", { name: "Compare with another field…" }));
    const finder = screen.getByRole("combobox", { name: "Find a field to compare with" });
    expect(screen.queryByRole("option", { name: /Status/ })).toBeNull();
    await userEvent.type(finder, "cost{Enter}");
    expect(last()).toEqual({ field: "value", is: "over", other: "cost" });
    expect(screen.getByText("that of Cost")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Compare with a value" }));
    expect(box("Value")).toBeTruthy();
  });

  it("needs nothing more where it asks whether anything is there", async () => {
    edit({ field: "value", is: "over", values: ["100"] });
    await userEvent.selectOptions(how(), "empty");
    expect(last()).toEqual({ field: "value", is: "empty" });
    expect(screen.queryByRole("textbox")).toBeNull();
  });

  it("speaks of days as before and after, and takes a period", async () => {
    edit({ field: "closed", is: "under", values: ["2026-05-01"] });
    expect(
      within(how())
        .getAllByRole("option")
        .map((o) => o.textContent),
    ).toEqual(["is within", "is before", "is empty"]);
    await userEvent.selectOptions(how(), "within");
    await userEvent.click(screen.getByRole("option", { name: "this month" }));
    expect(last()).toEqual({ field: "closed", is: "within", period: "this_month" });
  });

  it("is asked of the reader, or fixed", async () => {
    edit({ field: "value", is: "empty" });
    await userEvent.click(screen.getByRole("checkbox", { name: "ask the reader" }));
    expect(last()).toEqual({ field: "value", is: "empty", ask: true });
    await userEvent.click(screen.getByRole("checkbox", { name: "fixed, not shown" }));
    await userEvent.click(screen.getByRole("checkbox", { name: "ask the reader" }));
    expect(last()).toEqual({ field: "value", is: "empty", fixed: true });
  });
});

describe("conditions of several", () => {
  it("begins with what is most asked", async () => {
    edit();
    await userEvent.click(screen.getByRole("button", { name: "Open" }));
    expect(last()).toEqual({ field: "status", is: "any_of", values: ["open"] });
  });

  it("turns to not and back", async () => {
    edit({ field: "value", is: "empty" });
    await userEvent.click(screen.getByRole("button", { name: "Turn to not" }));
    expect(last()).toEqual({ not: { field: "value", is: "empty" } });
    await userEvent.click(screen.getByRole("button", { name: "Take the “not” away" }));
    expect(last()).toEqual({ field: "value", is: "empty" });
  });

  it("becomes any of several, which are added to, put in order and taken out", async () => {
    edit({ field: "value", is: "empty" });
    await userEvent.click(screen.getByRole("button", { name: "Any of several" }));
    await userEvent.click(screen.getByRole("button", { name: "and another…" }));
    await find("closed");
    await userEvent.click(screen.getByRole("option", { name: "this month" }));
    const closed = { field: "closed", is: "within", period: "this_month" };
    expect(last()).toEqual({ any: [{ field: "value", is: "empty" }, closed] });
    await userEvent.click(screen.getAllByRole("button", { name: "Earlier" })[1]);
    expect(last()).toEqual({ any: [closed, { field: "value", is: "empty" }] });
    await userEvent.click(screen.getByRole("radio", { name: "all of these" }));
    expect(last()).toEqual({ all: [closed, { field: "value", is: "empty" }] });
    await userEvent.click(screen.getByRole("button", { name: "Remove Closed within this month" }));
    expect(last()).toEqual({ all: [{ field: "value", is: "empty" }] });
  });

  it("asks of linked records whether there are any, how many, and which", async () => {
    edit();
    await userEvent.click(screen.getByRole("radio", { name: "Linked records" }));
    await userEvent.click(screen.getByRole("option", { name: "Activities" }));
    expect(last()).toEqual({ link: "activities", is: "none" });
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "How many of the linked records" }), "many");
    expect(last()).toEqual({ link: "activities", is: "some", at_least: 3 });
    await userEvent.click(screen.getByRole("button", { name: "a first condition…" }));
    await find("minutes");
    await userEvent.selectOptions(how(), "over");
    await userEvent.type(box("Value"), "30");
    expect(last()).toEqual({
      link: "activities",
      is: "some",
      at_least: 3,
      where: { all: [{ field: "minutes", is: "over", values: ["30"] }] },
    });
  });
});
