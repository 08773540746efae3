import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import { field, recordType, serving, show } from "../../testing";
import { LayoutDrawer } from "./LayoutDrawer";

const type = recordType("deals", "Deals", "deal", [
  field("name", "Name", "text"),
  field("value", "Value", "money"),
  field("stage", "Stage", "choice"),
]);
type Draft = { layout: object; version: number; revision: number };
const none: Draft = { layout: {}, version: 0, revision: 0 };
let kept: { layout?: object; version: number };
let draft: Draft;
let asked: ReturnType<typeof serving>;
let others = false;
beforeEach(() => {
  kept = { version: 3 };
  draft = none;
  others = false;
  asked = serving({
    "GET /api/subjects": [],
    "GET /api/page-layouts/deals": () => kept,
    "PUT /api/page-layouts/deals": null,
    "GET /api/page-layouts/deals/draft": () => draft,
    "PUT /api/page-layouts/deals/draft": ({ body }: { body: unknown }) => {
      const sent = body as Draft;
      if (others)
        throw new Refused(409, { title: "Changed", status: 409, detail: "It is laid out in another window." });
      draft = { ...sent, revision: sent.revision + 1 };
      return draft;
    },
    "DELETE /api/page-layouts/deals/draft": () => {
      draft = none;
      return null;
    },
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
  cleanup(); // at once: what is not kept yet is kept then
  await waitFor(() => expect(draft.revision).toBe(1));
  const again = await laid();
  expect(await screen.findByText(/left unsaved/)).toBeTruthy();
  expect(again.tried).toHaveBeenLastCalledWith({ first: ["stage", "value"], sections: [], lists: [] });
  await userEvent.click(screen.getByRole("button", { name: "Begin anew" }));
  expect(again.tried).toHaveBeenLastCalledWith({ first: ["stage"], sections: [], lists: [] });
  cleanup();
  await waitFor(() => expect(draft.revision).toBe(2));
  await laid();
  expect(screen.queryByText(/left unsaved/)).toBeNull();
});

it("says so where it is laid out in another window, and overwrites nothing there", async () => {
  others = true;
  await laid();
  await add();
  expect(await screen.findByText(/in another window/, undefined, { timeout: 3000 })).toBeTruthy();
  expect(draft).toBe(none);
});

it("is forgotten where it was saved, and where somebody saved the page since", async () => {
  const { done } = await laid();
  await add();
  await userEvent.click(screen.getByRole("button", { name: "Save for every deal" }));
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(asked.find((a) => a.method === "PUT" && !a.path.endsWith("draft"))?.body).toEqual({
    layout: { first: ["stage", "value"], sections: [], lists: [] },
    version: 3,
  });
  cleanup();
  await laid();
  expect(screen.queryByText(/left unsaved/)).toBeNull();
  await add();
  cleanup();
  await waitFor(() => expect(draft.revision).toBe(1));
  kept = { version: 4, layout: { first: ["value"], sections: [], lists: [] } };
  const { tried } = await laid();
  await waitFor(() => expect(tried).toHaveBeenLastCalledWith({ first: ["value"], sections: [], lists: [] }));
  expect(screen.queryByText(/left unsaved/)).toBeNull();
});
