import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, it, vi } from "vitest";
import { field, recordType, serving, show } from "../../testing";
import { LayoutDrawer } from "./LayoutDrawer";

const type = recordType("deals", "Deals", "deal", [
  field("name", "Name", "text"),
  field("value", "Value", "money"),
  field("stage", "Stage", "choice"),
]);
let kept: { layout?: object; version: number };
let asked: ReturnType<typeof serving>;
beforeEach(() => {
  localStorage.clear();
  kept = { version: 3 };
  asked = serving({
    "GET /api/subjects": [],
    "GET /api/page-layouts/deals": () => kept,
    "PUT /api/page-layouts/deals": null,
  });
});

async function laid() {
  const tried = vi.fn();
  const done = vi.fn();
  show(<LayoutDrawer type={type} now={{ first: ["stage"], sections: [], lists: [] }} onTry={tried} onClose={done} />);
  await waitFor(() =>
    expect(screen.getByRole("button", { name: "Save for every deal" })).toHaveProperty("disabled", false),
  );
  return { tried, done };
}
const add = () =>
  userEvent.selectOptions(screen.getByRole("combobox", { name: "Add to: What matters first" }), "value");

it("is here again after its window was closed, until one begins anew", async () => {
  const { tried } = await laid();
  expect(screen.queryByText(/left unsaved/)).toBeNull();
  await add();
  expect(tried).toHaveBeenLastCalledWith({ first: ["stage", "value"], sections: [], lists: [] });
  cleanup();
  const again = await laid();
  expect(await screen.findByText(/left unsaved/)).toBeTruthy();
  expect(again.tried).toHaveBeenLastCalledWith({ first: ["stage", "value"], sections: [], lists: [] });
  await userEvent.click(screen.getByRole("button", { name: "Begin anew" }));
  expect(again.tried).toHaveBeenLastCalledWith({ first: ["stage"], sections: [], lists: [] });
  cleanup();
  await laid();
  expect(screen.queryByText(/left unsaved/)).toBeNull();
});

it("is forgotten where it was saved, and where somebody saved the page since", async () => {
  const { done } = await laid();
  await add();
  await userEvent.click(screen.getByRole("button", { name: "Save for every deal" }));
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(asked.find((a) => a.method === "PUT")?.body).toEqual({
    layout: { first: ["stage", "value"], sections: [], lists: [] },
    version: 3,
  });
  cleanup();
  await laid();
  expect(screen.queryByText(/left unsaved/)).toBeNull();
  await add();
  cleanup();
  kept = { version: 4, layout: { first: ["value"], sections: [], lists: [] } };
  const { tried } = await laid();
  await waitFor(() => expect(tried).toHaveBeenLastCalledWith({ first: ["value"], sections: [], lists: [] }));
  expect(screen.queryByText(/left unsaved/)).toBeNull();
});
