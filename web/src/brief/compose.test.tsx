import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import type { Brief, Clause, SchemaInfo } from "../api/client";
import { FieldFinder } from "../fields/FieldFinder";
import { fieldAt, reach, search } from "../fields/fields";
import { field, recordType } from "../testing";
import { Sentence } from "./Sentence";

// Loaded when an editor is first opened: here that is before, so that what a press does is seen at once.
beforeAll(() => import("./clauses"));

const kinds = (key: string, label: string, kind: string, to?: string) =>
  field(key, label, kind, kind === "money" ? ["over", "under"] : ["any_of", "none_of", "empty"], to);
const schema = {
  types: [
    recordType(
      "deals",
      "Deals",
      "deal",
      [
        kinds("name", "Name", "text"),
        kinds("customer", "Customer", "link", "customers"),
        { ...kinds("stage", "Stage", "choice"), choices: ["Enquiry", "Offer sent"] },
        kinds("value", "Value", "money"),
        kinds("created", "Created", "time"),
      ],
      { shown: ["name", "value"] },
    ),
    recordType(
      "customers",
      "Customers",
      "customer",
      [kinds("name", "Name", "text"), kinds("segment", "Segment", "choice")],
      {
        owner: "",
        shown: ["name"],
      },
    ),
  ],
  periods: [
    {
      word: "this_quarter",
      label: "this quarter",
      dates: "1 Apr – 30 Jun 2026",
      from: "2026-04-01",
      to: "2026-06-30",
      today: "in",
      note: "Today is in it.",
    },
  ],
  units: ["day", "month"],
  chartKinds: ["column", "funnel"],
  currency: "€",
  readers: "people",
} as unknown as SchemaInfo;

const clauses: Clause[] = [
  { key: "records", lead: "", text: "Deals", at: "/start" },
  { key: "whose", lead: " of ", text: "everyone", at: "/whose" },
  { key: "summaries", lead: ", showing ", text: "count", at: "" },
];

function Composer({ start, said = clauses, onBrief }: { start: Brief; said?: Clause[]; onBrief: (b: Brief) => void }) {
  const [brief, setBrief] = useState(start);
  return (
    <QueryClientProvider client={new QueryClient()}>
      <Sentence
        schema={schema}
        brief={brief}
        clauses={said}
        onChange={(b) => {
          setBrief(b);
          onBrief(b);
        }}
      />
    </QueryClientProvider>
  );
}

describe("the sentence", () => {
  let last: Brief;
  const keep = (b: Brief) => {
    last = b;
  };
  beforeEach(() => {
    last = { version: 1, start: "deals" };
    vi.stubGlobal(
      "fetch",
      vi.fn(
        async () =>
          new Response(JSON.stringify([{ value: "Enquiry", label: "Enquiry", count: 3 }]), {
            headers: { "Content-Type": "application/json" },
          }),
      ),
    );
  });

  it("groups by a field that is typed and taken with Enter, with nothing but the keyboard", async () => {
    const user = userEvent.setup();
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    screen.getByRole("button", { name: "by…" }).focus();
    await user.keyboard("{Enter}");
    await user.keyboard("created{Enter}");
    expect(last.groups).toEqual([{ field: "created", by: "month" }]);
    expect(last.chart).toEqual({ kind: "column" });
  });

  it("narrows by an amount, and hands on only what reads as one", async () => {
    const user = userEvent.setup();
    const seen = vi.fn(keep);
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={seen} />);
    await user.click(screen.getByRole("button", { name: "where…" }));
    await user.keyboard("value{Enter}");
    await user.selectOptions(screen.getByRole("combobox", { name: "How it compares" }), "over");
    await user.type(screen.getByRole("textbox", { name: "Value" }), "twenty");
    expect(seen).not.toHaveBeenCalled();
    expect(screen.getByText("An amount like 20000 or 1250.50")).toBeTruthy();
    await user.clear(screen.getByRole("textbox", { name: "Value" }));
    await user.type(screen.getByRole("textbox", { name: "Value" }), "20,000");
    expect(last.filter).toEqual({ all: [{ field: "value", is: "over", values: ["20000"] }] });
  });

  it("offers among the conditions that the records are one's own, where they have owners and it is not said yet", async () => {
    const user = userEvent.setup();
    const { unmount } = render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    await user.click(screen.getByRole("button", { name: "where…" }));
    await user.click(screen.getByRole("button", { name: "Mine" }));
    expect(last).toEqual({ version: 1, start: "deals", whose: "mine" });
    expect(screen.queryByRole("dialog"), "nothing more is to be said").toBeNull();
    unmount();
    for (const start of [last, { version: 1, start: "customers" } as Brief]) {
      const { unmount: leave } = render(<Composer start={start} onBrief={keep} />);
      await user.click(screen.getByRole("button", { name: "where…" }));
      expect(screen.queryByRole("button", { name: "Mine" })).toBeNull();
      leave();
    }
  });

  it("opens the editor of a clause and changes whose records they are", async () => {
    const user = userEvent.setup();
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    await user.click(screen.getByRole("button", { name: "whose: everyone" }));
    await user.click(screen.getByRole("option", { name: "My team's" }));
    expect(last.whose).toBe("team");
  });

  it("goes from one clause to another with one press, and back to where one was with Escape", async () => {
    const user = userEvent.setup();
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    await user.click(screen.getByRole("button", { name: "whose: everyone" }));
    expect(screen.getByRole("listbox", { name: "Whose records" })).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "summary: count", hidden: true }));
    expect(await screen.findByRole("button", { name: "Sum of …" })).toBeTruthy();
    expect(screen.queryByRole("listbox", { name: "Whose records" })).toBeNull();
    await user.keyboard("{Escape}");
    await vi.waitFor(() => expect(document.activeElement?.getAttribute("aria-label")).toBe("summary: count"));
    // What is chosen once is done: its editor closes, and the focus is where it was.
    await user.click(screen.getByRole("button", { name: "whose: everyone" }));
    await user.click(screen.getByRole("option", { name: "Mine" }));
    expect(screen.queryByRole("dialog")).toBeNull();
    await vi.waitFor(() => expect(document.activeElement?.getAttribute("aria-label")).toBe("whose: everyone"));
  });

  it("leaves the focus with what was pressed when its editor closed", async () => {
    const user = userEvent.setup();
    render(
      <>
        <Composer start={{ version: 1, start: "deals" }} onBrief={keep} />
        <input aria-label="elsewhere" />
      </>,
    );
    await user.click(screen.getByRole("button", { name: "whose: everyone" }));
    await user.click(screen.getByRole("textbox", { name: "elsewhere", hidden: true }));
    await vi.waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    await new Promise((done) => setTimeout(done, 60)); // what closes hands on the focus after it has gone
    expect(document.activeElement?.getAttribute("aria-label")).toBe("elsewhere");
    await user.keyboard("typed");
    expect(screen.getByRole("textbox", { name: "elsewhere" })).toHaveProperty("value", "typed");
  });

  it("says what an invitation adds, with an example of one's own", async () => {
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    screen.getByRole("button", { name: "where…" }).focus();
    expect((await screen.findByRole("tooltip")).textContent).toBe(
      "Only deals that meet a condition, as “stage is Enquiry”.",
    );
  });

  it("takes a summary in and out, never the last", async () => {
    const user = userEvent.setup();
    render(<Composer start={{ version: 1, start: "deals" }} onBrief={keep} />);
    await user.click(screen.getByRole("button", { name: "summary: count" }));
    expect(screen.getByRole("button", { name: "Remove Count" })).toHaveProperty("disabled", true);
    await user.click(screen.getByRole("button", { name: "Sum of …" }));
    await user.keyboard("value{Enter}");
    expect(last.summaries).toEqual([
      { key: "count", fn: "count" },
      { key: "sum_value", fn: "sum", of: "value" },
    ]);
    await user.click(screen.getByRole("button", { name: "Remove Count" }));
    expect(last.summaries).toHaveLength(1);
  });

  it("offers nothing on a report that is only read", () => {
    render(
      <Sentence schema={schema} brief={{ version: 1, start: "deals" }} clauses={clauses} readOnly onChange={keep} />,
    );
    expect(screen.queryAllByRole("button")).toHaveLength(0);
    expect(screen.getByRole("group", { name: "The report as a sentence" }).textContent).toBe(
      "Deals of everyone, showing count.",
    );
  });
});

describe("finding fields", () => {
  it("reaches linked fields by their words, nearer ones first", () => {
    const all = reach(schema, "deals", 2);
    expect(search(all, "customer segment").map((f) => f.path)).toEqual(["customer.segment"]);
    expect(search(all, "name").map((f) => f.path)).toEqual(["name", "customer.name"]);
    expect(fieldAt(schema, "deals", "customer.segment")?.label).toBe("Customer › Segment");
    expect(fieldAt(schema, "deals", "customer.nothing")).toBeUndefined();
  });

  it("takes one field by a click and one by a double click, though another moves into its place", () => {
    const taken: string[] = [];
    const finder = () => (
      <QueryClientProvider client={new QueryClient()}>
        <FieldFinder
          schema={schema}
          start="customers"
          label="Find"
          fits={(f) => !taken.includes(f.path)}
          onPick={(f) => {
            taken.push(f.path);
            rerender(finder());
          }}
        />
      </QueryClientProvider>
    );
    const { rerender } = render(finder());
    // The second click of two falls on what stands there by then.
    for (const detail of [1, 2]) fireEvent.click(screen.getAllByRole("option")[0], { detail });
    expect(taken).toEqual(["name"]);
    fireEvent.click(screen.getAllByRole("option")[0], { detail: 1 });
    expect(taken).toEqual(["name", "segment"]);
  });

  it("moves by arrow keys and says when nothing is found", async () => {
    const user = userEvent.setup();
    const pick = vi.fn();
    render(
      <QueryClientProvider client={new QueryClient()}>
        <FieldFinder schema={schema} start="deals" label="Find" onPick={pick} />
      </QueryClientProvider>,
    );
    await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    expect(pick.mock.calls[0][0].path).toBe("stage");
    await user.click(screen.getByRole("radio", { name: "money" }));
    expect(screen.getAllByRole("option").map((o) => o.textContent)).toEqual(["Valuemoney"]);
    await user.click(screen.getByLabelText("Find"));
    await user.keyboard("zzz");
    expect(screen.getByText(/No field has these words/)).toBeTruthy();
    await user.keyboard("{Escape}");
    expect(screen.getAllByRole("option")).toHaveLength(1);
  });
});
