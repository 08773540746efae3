import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { CellEditor } from "./CellEditor";

const stage = { ...field("stage", "Stage", "choice"), choices: ["Enquiry", "Design"], stages: true };
const value = field("value", "Value", "money");
const customer = field("customer", "Customer", "link", [], "customers");
const type = recordType("deals", "Deals", "deal", [stage, value, customer, field("closed", "Closed", "date")], {
  written: true,
});
const kept = { id: 7, version: "v1", values: { stage: "Enquiry", value: "100.00", customer: "3" } };

function edit(of: typeof value, answers: Parameters<typeof serving>[0]) {
  const done = vi.fn();
  const asked = serving({ "GET /api/records/deals/7/values": kept, ...answers });
  show(<CellEditor type={type} field={of} id="7" shown="as it is" onDone={done} />);
  return { done, sent: () => asked.filter((a) => a.method === "PATCH") };
}

it("sets what is chosen at once, and tells all that changed with it", async () => {
  const { done, sent } = edit(stage, {
    "PATCH /api/records/deals/7": {
      id: 7,
      version: "v2",
      values: { ...kept.values, stage: "Design", closed: "2026-05-14" },
    },
  });
  await userEvent.selectOptions(await screen.findByRole("combobox", { name: "Stage, edited" }), "Design");
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(sent()[0].body).toEqual({ values: { stage: "Design" } });
  expect(done.mock.lastCall?.[0].changed).toEqual([
    { id: 7, field: "stage", from: "Enquiry", to: "Design" },
    { id: 7, field: "closed", from: "", to: "2026-05-14" },
  ]);
});

it("keeps what was typed where it is refused, says why beside it, and lets it be put right", async () => {
  let n = 0;
  const { done } = edit(value, {
    "PATCH /api/records/deals/7": () => {
      if (n++ === 0) throw new Refused(422, { title: "x", status: 422, detail: "Value: much is no number." } as never);
      return { id: 7, version: "v2", values: { ...kept.values, value: "5.00" } };
    },
  });
  const box = await screen.findByRole<HTMLInputElement>("textbox", { name: "Value, edited" });
  await userEvent.clear(box);
  await userEvent.type(box, "much{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("much is no number");
  expect(box.value).toBe("much");
  expect(done).not.toHaveBeenCalled();
  await userEvent.clear(box);
  await userEvent.type(box, "5{Enter}");
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
});

const conflict = (values: object) =>
  new Refused(412, { title: "x", status: 412, detail: "changed", now: { id: 7, version: "v9", values } } as never);

/** Sets the value to 9 where the record is another by now. */
async function late(now: object) {
  let n = 0;
  const { done, sent } = edit(value, {
    "PATCH /api/records/deals/7": () => {
      if (n++ === 0) throw conflict(now);
      return { id: 7, version: "v3", values: { ...kept.values, value: "9.00" } };
    },
  });
  const box = await screen.findByRole("textbox", { name: "Value, edited" });
  await userEvent.clear(box);
  await userEvent.type(box, "9{Enter}");
  return { done, sent };
}

it("asks where someone else set it meanwhile", async () => {
  const { done, sent } = await late({ ...kept.values, value: "250.00" });
  expect((await screen.findByRole("alert")).textContent).toContain("“250.00” meanwhile");
  expect(sent()).toHaveLength(1);
  await userEvent.click(screen.getByRole("button", { name: "Set mine" }));
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
});

it("does not ask where they changed another field", async () => {
  const { done } = await late({ ...kept.values, stage: "Design" });
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(screen.queryByRole("alert")).toBeNull();
});

it("leaves by Escape, and finds what it links to by name", async () => {
  const { done, sent } = edit(customer, {
    "GET /api/find-records": [{ id: "12", name: "Kelpholm Marina" }],
    "PATCH /api/records/deals/7": { id: 7, version: "v2", values: { ...kept.values, customer: "12" } },
  });
  const box = await screen.findByRole("combobox", { name: "Customer, edited" });
  await userEvent.type(box, "{Enter}");
  expect(done, "nothing was chosen").toHaveBeenLastCalledWith();
  await userEvent.type(box, "kelp");
  await screen.findByRole("option", { name: /Kelpholm Marina/ });
  await userEvent.type(box, "{Enter}");
  await waitFor(() => expect(sent()[0].body).toEqual({ values: { customer: "12" } }));
  await userEvent.type(box, "{Escape}");
  expect(done).toHaveBeenCalledWith();
});
