import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused, type Schemas } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { ChoicesDialog } from "./ChoicesDialog";
import { FieldDialog } from "./FieldDialog";
import { LimitDialog, limitSaid } from "./LimitDialog";
import { RailDialog } from "./RailDialog";
import { RetireDialog } from "./RetireDialog";
import { TypeDialog } from "./TypeDialog";

const kind: Schemas["ShapedField"] = {
  key: "kind",
  label: "Kind",
  kind: "choice",
  added: false,
  worked: false,
  limit: { see: "", change: "" },
  needed: true,
  stages: false,
  choices: [
    { name: "Call", was: "Call", uses: 3 },
    { name: "Visit", was: "Visit", uses: 1 },
  ],
};
const put = (asked: ReturnType<typeof serving>) => asked.find((a) => a.method === "PUT")?.body;
const save = () => userEvent.click(screen.getByRole("button", { name: "Save" }));

it("sends choices in their order, each with what it was called", async () => {
  const asked = serving({ "PUT /api/shape/activities/choices/kind": null });
  const done = vi.fn();
  show(<ChoicesDialog type="activities" field={kind} stages={[]} version={4} onClose={() => {}} onDone={done} />);
  await userEvent.click(screen.getByRole("button", { name: "Visit earlier" }));
  const call = screen.getByRole("textbox", { name: "Name of Call" });
  await userEvent.clear(call);
  await userEvent.type(call, "Phone call");
  await userEvent.click(screen.getByRole("button", { name: "Another choice" }));
  await userEvent.type(screen.getByRole("textbox", { name: "Name of new one 3" }), "Fair");
  await save();
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(put(asked)).toEqual({
    version: 4,
    choices: [
      { name: "Visit", was: "Visit" },
      { name: "Phone call", was: "Call" },
      { name: "Fair", was: "" },
    ],
  });
});

it("says why a choice cannot be taken away, and keeps what was typed", async () => {
  serving({
    "PUT /api/shape/activities/choices/kind": () => {
      throw new Refused(422, { title: "Refused", detail: "3 records have “Call”.", status: 422 } as never);
    },
  });
  show(<ChoicesDialog type="activities" field={kind} stages={[]} version={4} onClose={() => {}} onDone={() => {}} />);
  await userEvent.click(screen.getByRole("button", { name: "Take Call away" }));
  await save();
  expect((await screen.findByRole("alert")).textContent).toContain("3 records have “Call”");
  expect(screen.queryByRole("textbox", { name: "Name of Call" })).toBeNull();
});

it("sends stages with status and likelihood as a number", async () => {
  const deals = recordType("deals", "Deals", "deal", [field("likelihood", "Likelihood", "percent")]);
  const asked = serving({ "PUT /api/shape/deals/stages": null, "GET /api/schema": { types: [deals] } });
  const stage = {
    name: "Enquiry",
    was: "Enquiry",
    uses: 2,
    pipeline: "Projects",
    status: "open" as const,
    likelihood: 10,
  };
  show(
    <ChoicesDialog
      type="deals"
      field={{ ...kind, stages: true }}
      stages={[stage]}
      version={1}
      onClose={() => {}}
      onDone={() => {}}
    />,
  );
  const likelihood = await screen.findByRole("spinbutton", { name: "Likelihood of Enquiry, in percent" });
  await userEvent.clear(likelihood);
  await userEvent.type(likelihood, "25");
  await save();
  await waitFor(() => expect(put(asked)).toBeTruthy());
  expect(put(asked)).toMatchObject({
    stages: [{ was: "Enquiry", pipeline: "Projects", status: "open", likelihood: 25 }],
  });
});

it("adds a field with choices one a line, and asks for them only where it has any", async () => {
  const asked = serving({ "POST /api/shape/deals/fields": null });
  show(<FieldDialog type="deals" version={2} onClose={() => {}} onDone={() => {}} />);
  expect(screen.queryByRole("textbox", { name: "Choices, one a line" })).toBeNull();
  await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Hull");
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "It holds" }), "choice");
  await userEvent.type(screen.getByRole("textbox", { name: "Choices, one a line" }), "Steel\n\nWood");
  await userEvent.click(screen.getByRole("button", { name: "Add" }));
  const sent = () => asked.find((a) => a.path.endsWith("/fields"))?.body;
  await waitFor(() => expect(sent()).toBeTruthy());
  expect(sent()).toMatchObject({ label: "Hull", kind: "choice", version: 2, choices: ["Steel", "Wood"] });
});

it("changes a field, and says beside it why another kind cannot be taken", async () => {
  const asked = serving({
    "GET /api/schema": { types: [] },
    "PUT /api/shape/deals/fields/length": () => {
      throw new Refused(422, {
        title: "Refused",
        detail: "1 record has no number: “long”.",
        status: 422,
        errors: [{ pointer: "/kind", message: "1 record has no number: “long”." }],
      } as never);
    },
  });
  const length: Schemas["ShapedField"] = {
    ...kind,
    key: "length",
    label: "Length",
    kind: "text",
    added: true,
    choices: [],
  };
  show(<FieldDialog type="deals" field={length} version={2} onClose={() => {}} onDone={() => {}} />);
  const holds = screen.getByRole<HTMLSelectElement>("combobox", { name: "It holds" });
  expect(
    [...holds.options].map((o) => o.value),
    "a link is made anew",
  ).not.toContain("link");
  await userEvent.selectOptions(holds, "number");
  await userEvent.type(screen.getByRole("textbox", { name: "Unit" }), "m");
  await userEvent.click(screen.getByRole("checkbox", { name: "never empty" }));
  await save();
  expect((await screen.findByRole("alert")).textContent).toContain("“long”");
  expect(asked.find((a) => a.method === "PUT")?.body).toMatchObject({ kind: "number", unit: "m", required: true });
});

it("says who has a field, and offers what can be limited of it", async () => {
  const asked = serving({ "PUT /api/shape/deals/limits/margin": null });
  const done = vi.fn();
  const margin = { ...kind, key: "margin", label: "Margin", needed: false };
  const at = { type: "deals", version: 7, onClose: () => {}, onDone: done };
  const { rerender } = show(<LimitDialog {...at} field={{ ...margin, needed: true }} />);
  // A field by which records are told apart cannot be hidden.
  expect(screen.queryByRole("combobox", { name: /It is seen by/ })).toBeNull();
  rerender(<LimitDialog key="worked" {...at} field={{ ...margin, worked: true }} />);
  expect(screen.queryByRole("combobox", { name: /It is changed by/ })).toBeNull();
  rerender(<LimitDialog key="own" {...at} field={margin} />);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: /It is seen by/ }), "composers");
  await userEvent.selectOptions(screen.getByRole("combobox", { name: /It is changed by/ }), "administrators");
  await save();
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(asked[0].body).toEqual({ see: "composers", change: "administrators", version: 7 });
});

it.each([
  [{ see: "", change: "" }, ""],
  [{ see: "composers", change: "" }, "seen by composers and administrators"],
  [{ see: "administrators", change: "administrators" }, "seen by administrators"],
  [{ see: "", change: "administrators" }, "changed by administrators"],
] as [Schemas["LimitBody"], string][])("says a limit in words: %o", (limit, words) => {
  expect(limitSaid(limit)).toBe(words);
});

it("retires a field once it is seen what uses it, with all else of it as it was", async () => {
  const uses = Array.from({ length: 10 }, (_, i) => `report ${i}`);
  const asked = serving({
    "GET /api/shape/deals/fields/margin/uses": uses,
    "PUT /api/shape/deals/fields/margin": null,
  });
  const done = vi.fn();
  const margin = { ...kind, key: "margin", label: "Margin", kind: "money" as const, added: true, unit: "each" };
  show(<RetireDialog type="deals" field={margin} version={2} onClose={() => {}} onDone={done} />);
  const button = screen.getByRole("button", { name: "Retire it" });
  expect((button as HTMLButtonElement).disabled).toBe(true); // what uses it is not known yet
  await screen.findByText(/report 7 and 2 others/);
  await userEvent.click(button);
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(asked.at(-1)?.body).toEqual({ label: "Margin", kind: "money", unit: "each", retired: true, version: 2 });
});

it("offers a retired field again", async () => {
  const asked = serving({
    "GET /api/shape/deals/fields/margin/uses": [],
    "PUT /api/shape/deals/fields/margin": null,
  });
  const margin = { ...kind, key: "margin", label: "Margin", kind: "money" as const, added: true, retired: true };
  show(<RetireDialog type="deals" field={margin} version={2} onClose={() => {}} onDone={() => {}} />);
  const button = screen.getByRole("button", { name: "Offer it again" });
  await waitFor(() => expect((button as HTMLButtonElement).disabled).toBe(false));
  expect(screen.queryByText("Nothing uses it.")).toBeNull();
  await userEvent.click(button);
  await waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ retired: false, version: 2 }));
});

it("gives a type its first stages, which say no likelihood, and colours that are picked", async () => {
  const asked = serving({
    "PUT /api/shape/berths/stages": null,
    "GET /api/schema": { types: [recordType("berths", "Berths", "berth", [])] },
    "GET /api/settings/style": { style: {}, palette: ["#007C7D", "#C8553D"], version: 1 },
  });
  show(<ChoicesDialog type="berths" stages={[]} version={3} onClose={() => {}} onDone={() => {}} />);
  for (const [i, name] of ["Free", "Let", "Given up"].entries())
    await userEvent.type(screen.getByRole("textbox", { name: `Name of new one ${i + 1}` }), name);
  expect(screen.queryByRole("spinbutton")).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "give it a colour, new one 2" }));
  await waitFor(() => expect(screen.getByLabelText("Colour of new one 2")).toHaveProperty("value", "#c8553d"));
  await save();
  await waitFor(() => expect(put(asked)).toBeTruthy());
  expect(put(asked)).toMatchObject({
    version: 3,
    stages: [
      { name: "Free", status: "open" },
      { name: "Let", status: "won", colour: "#C8553D" },
      { name: "Given up", status: "lost" },
    ],
  });
});

it("takes a colour off a choice", async () => {
  const asked = serving({ "PUT /api/shape/activities/choices/kind": null });
  const coloured = { ...kind, choices: [{ name: "Call", was: "Call", colour: "#C8553D" }] };
  show(
    <ChoicesDialog type="activities" field={coloured} stages={[]} version={1} onClose={() => {}} onDone={() => {}} />,
  );
  await userEvent.click(screen.getByRole("button", { name: "No colour for Call" }));
  await save();
  await waitFor(() => expect(put(asked)).toEqual({ version: 1, choices: [{ name: "Call", was: "Call", colour: "" }] }));
});

it("puts records in another order by keys alone", async () => {
  const types = ["customers", "deals", "berths"].map((k) => recordType(k, k, k, []));
  const asked = serving({
    "PUT /api/rail": null,
    "GET /api/schema": { types, rail: ["customers", "deals", "berths"] },
  });
  const done = vi.fn();
  show(<RailDialog version={2} onClose={() => {}} onDone={done} />);
  const earlier = await screen.findByRole("button", { name: "berths earlier" });
  earlier.focus();
  await userEvent.keyboard("{Enter}{Enter}");
  await save();
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(put(asked)).toEqual({ order: ["berths", "customers", "deals"], version: 2 });
});

it("shows records with the drawing that is chosen", async () => {
  const asked = serving({ "POST /api/shape": { key: "berths" } });
  const done = vi.fn();
  show(<TypeDialog version={2} onClose={() => {}} onDone={done} />);
  await userEvent.type(screen.getByRole("textbox", { name: "Many of them" }), "Berths");
  await userEvent.type(screen.getByRole("textbox", { name: "One of them" }), "berth");
  screen.getByRole("radio", { name: "no drawing" }).focus();
  await userEvent.keyboard("{ArrowRight}{ArrowRight}");
  expect(screen.getByRole("radio", { name: "boat" }).getAttribute("aria-checked")).toBe("true");
  await userEvent.click(screen.getByRole("button", { name: "Add" }));
  await waitFor(() => expect(done).toHaveBeenCalledWith("berths"));
  expect(asked.find((a) => a.method === "POST")?.body).toMatchObject({ label: "Berths", one: "berth", icon: "boat" });
});
