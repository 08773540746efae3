import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { field, recordType, serving, show } from "../../testing";
import { MergeDialog } from "./MergeDialog";

const type = recordType("customers", "Customers", "customer", [
  field("name", "Name", "text"),
  field("city", "City", "text"),
  field("phone", "Phone", "text"),
  field("kind", "Kind", "text"),
]);
const record = (values: Record<string, string>) => ({
  fields: Object.entries(values).map(([key, text]) => ({ key, text })),
});
const mine = { name: "Tern", city: "Kiel", kind: "Client" };
const theirs = { name: "Tern GmbH", city: "Husum", phone: "0431 55", kind: "Client" };

it("asks only where they differ, takes what only the other has, and sends what one chose of the other", async () => {
  const asked = serving({
    "GET /api/find-records": [
      { id: "1", name: "Tern" },
      { id: "2", name: "Tern GmbH" },
    ],
    "GET /api/records/customers/1/values": { id: 1, version: "a", values: mine },
    "GET /api/records/customers/2/values": { id: 2, version: "b", values: theirs },
    "GET /api/records/customers/1": record(mine),
    "GET /api/records/customers/2": record(theirs),
    "POST /api/records/customers/merge": { merge: 4 },
  });
  show(<MergeDialog type={type} id="1" name="Tern" onClose={() => {}} />);
  await userEvent.type(screen.getByRole("combobox", { name: "The other customer" }), "tern");
  await userEvent.click(await screen.findByRole("option", { name: /Tern GmbH/ }));
  const of = (name: string) => screen.findByRole<HTMLInputElement>("radio", { name });
  expect((await of("City: Kiel")).checked).toBe(true);
  expect((await of("Phone: 0431 55")).checked, "only the other has one").toBe(true);
  expect(screen.queryByRole("radio", { name: /Kind/ }), "they agree").toBeNull();
  await userEvent.click(await of("Name: Tern GmbH"));
  await userEvent.click(screen.getByRole("button", { name: "Make them one" }));
  await waitFor(() => expect(asked.some((a) => a.method === "POST")).toBe(true));
  expect(asked.find((a) => a.method === "POST")?.body).toEqual({
    keep: 1,
    drop: [2],
    values: { name: "Tern GmbH", phone: "0431 55" },
  });
});
