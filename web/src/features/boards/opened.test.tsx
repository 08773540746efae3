import { act, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Route, Routes } from "react-router";
import { expect, it } from "vitest";
import { serving, show } from "../../testing";
import { BoardPage } from "./BoardPage";

const board = (version: number, panels: unknown[]) => ({
  id: 3,
  title: "West shore",
  folder: 1,
  version,
  panels,
  filters: {},
  mayChange: true,
});

const none = { version: 0, revision: 0, changed: 0, panels: [] };
const answers = {
  "GET /api/me": { id: 1, may: [], today: "2026-05-14" },
  "GET /api/schema": { types: [], periods: [] },
  "GET /api/boards/3": board(1, []),
};

/** The dashboard with a heading added, not saved. */
async function arranged() {
  show(
    <Routes>
      <Route path="/dashboards/:id" element={<BoardPage />} />
    </Routes>,
    "/dashboards/3",
  );
  await userEvent.click(await screen.findByRole("button", { name: "Arrange" }));
  await userEvent.click(await screen.findByRole("button", { name: "Add words" }));
}

it("leaves what one opens open after it was saved, also where the answer about its draft comes late", async () => {
  let drafts = 0;
  let late = () => {};
  const asked = serving({
    ...answers,
    "GET /api/boards/3/draft": () =>
      drafts++
        ? new Promise((resolve) => {
            late = () => resolve(none);
          })
        : none,
    "PUT /api/boards/3/draft": { ...none, revision: 1 },
    "DELETE /api/boards/3/draft": {},
    "PUT /api/boards/3": ({ body }: { body: unknown }) => board(2, (body as { panels: unknown[] }).panels),
  });
  await arranged();
  await userEvent.click(screen.getByRole("button", { name: "Save dashboard" }));
  await userEvent.click(await screen.findByRole("button", { name: "More to do with the dashboard" }));
  await waitFor(() => expect(drafts, "asked once more, for somebody may have arranged it").toBe(2));
  expect(screen.getByRole("menu")).toBeTruthy();
  await act(async () => late());
  await waitFor(() => expect(asked.some((a) => a.method === "PUT" && a.path === "/api/boards/3")).toBe(true));
  expect(screen.getByRole("menu"), "it is still open").toBeTruthy();
  expect(screen.getByText("A heading")).toBeTruthy();
});

it("is as it was once what was arranged is given up", async () => {
  serving({
    ...answers,
    "GET /api/boards/3/draft": none,
  });
  await arranged();
  expect(await screen.findByText("A heading")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Leave as it was" }));
  expect(await screen.findByRole("button", { name: "Arrange" })).toBeTruthy();
  expect(screen.queryByText("A heading")).toBeNull();
});
