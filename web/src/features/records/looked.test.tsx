import { screen, waitFor, within } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { recordType, serving, show } from "../../testing";
import { Timeline } from "./Timeline";

const entry = {
  what: "changed",
  at: 200,
  written: 200,
  when: "Mon 11 May 10:00",
  person: "Runa Kestle",
  by: 4,
  id: 7,
  label: "Stage",
  field: "stage",
  from: "Design",
  to: "Offer sent",
  was: "Design",
  is: "Offer sent",
};
const older = { ...entry, id: 6, at: 50, written: 50, from: "Enquiry", to: "Design" };
const own = { ...entry, id: 8, at: 300, written: 300, by: 1, person: "Maite Corrie", label: "Value" };

it("says what others did since one last looked, and marks it, but not what one did oneself", async () => {
  serving({
    "GET /api/me": { id: 1 },
    "GET /api/subjects": [],
    "GET /api/records/deals/40/timeline": { entries: [own, entry, older], more: false, kinds: {}, changes: 3 },
    "POST /api/records/deals/40/look": { at: 100, when: "Sun 10 May 18:00", news: [entry] },
  });
  show(<Timeline type={recordType("deals", "Deals", "deal", [])} id="40" done={vi.fn()} />);
  expect((await screen.findByRole("status")).textContent).toBe(
    "Since you last looked, Sun 10 May 18:00: Stage Design → Offer sent (Runa Kestle).",
  );
  await waitFor(() => expect(screen.getAllByRole("listitem")).toHaveLength(3));
  const isNew = screen.getAllByRole("listitem").map((l) => within(l).queryByText("New:") !== null);
  expect(isNew).toEqual([false, true, false]);
});

it("says nothing where one comes for the first time", async () => {
  serving({
    "GET /api/me": { id: 1 },
    "GET /api/subjects": [],
    "GET /api/records/deals/40/timeline": { entries: [entry], more: false, kinds: {}, changes: 1 },
    "POST /api/records/deals/40/look": { at: 0, when: "", news: [] },
  });
  show(<Timeline type={recordType("deals", "Deals", "deal", [])} id="40" done={vi.fn()} />);
  await screen.findByText("Stage");
  expect(screen.queryByRole("status")).toBeNull();
  expect(screen.queryByText("New:")).toBeNull();
});
