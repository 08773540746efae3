import { act, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useLocation } from "react-router";
import { expect, it } from "vitest";
import type { Me } from "../api/client";
import { recordType, serving, show } from "../testing";
import { Palette } from "./Palette";

const Place = () => <output>{useLocation().pathname}</output>;

it("goes by Enter to what is found for the words that stand there, once it is found", async () => {
  let found = () => {};
  const asked = serving({
    "GET /api/schema": { types: [recordType("customers", "Customers", "customer", [])] },
    "GET /api/find": { items: [] },
    "GET /api/find-records": () =>
      new Promise((resolve) => {
        found = () => resolve([{ type: "customers", id: "9", name: "Ternbay Yacht Club" }]);
      }),
  });
  show(
    <>
      <Palette me={{ may: [] } as unknown as Me} />
      <Place />
    </>,
  );
  await userEvent.keyboard("{Control>}k{/Control}");
  await waitFor(() => expect(asked.some((a) => a.path === "/api/schema")).toBe(true));
  await userEvent.type(await screen.findByRole("combobox", { name: "Go to or do" }), "ternbay{Enter}");
  await screen.findByText("Looking…");
  await waitFor(() => expect(asked.at(-1)?.query.get("search")).toBe("ternbay"));
  expect(screen.getByRole("status", { hidden: true }).textContent).toBe("/");
  await act(async () => found());
  await waitFor(() => expect(screen.getByRole("status", { hidden: true }).textContent).toBe("/records/customers/9"));
});
