import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { serving, show } from "../../testing";
import { InboxPage } from "./InboxPage";
import { LeavePage } from "./LeavePage";

const line = (id: number, text: string, unread: boolean, kind = "sent") => ({
  id,
  time: "08:00",
  kind,
  text,
  link: "/reports/1",
  unread,
});
const inbox = {
  days: [
    { day: "14 May 2026", lines: [line(12, "Pipeline: €3", true), line(0, "Pier: 2 changes", true, "followed")] },
    { day: "13 May 2026", lines: [line(7, "Pipeline: €2", false)] },
  ],
  quiet: ["followed"],
  kinds: [
    { key: "sent", words: "what is sent to you" },
    { key: "followed", words: "changes of what you follow" },
  ],
};
const coming = [{ id: 5, title: "Pipeline", from: "Osric", words: "every day at 08:00", mail: true, left: false }];

it("tells what there is by day, and marks as read what stands there, no more", async () => {
  const asked = serving({ "GET /api/inbox": inbox, "GET /api/coming": coming, "PUT /api/inbox/read": undefined });
  show(<InboxPage />);
  await screen.findByText("Pipeline: €3");
  expect(screen.getAllByText("Not read:")).toHaveLength(2);
  await userEvent.click(screen.getByRole("button", { name: "All is read" }));
  await waitFor(() => expect(asked.find((a) => a.method === "PUT")?.body).toEqual({ upTo: 12 }));
});

it("has a kind counted again, and leaves what is sent", async () => {
  const asked = serving({
    "GET /api/inbox": inbox,
    "GET /api/coming": coming,
    "PUT /api/inbox/quiet": undefined,
    "PUT /api/coming/5": undefined,
  });
  show(<InboxPage />);
  const followed = await screen.findByRole("checkbox", { name: "changes of what you follow" });
  expect((followed as HTMLInputElement).checked).toBe(false);
  await userEvent.click(followed);
  await waitFor(() => expect(asked.find((a) => a.path === "/api/inbox/quiet")?.body).toEqual({ quiet: [] }));
  await userEvent.click(screen.getByRole("button", { name: "Get Pipeline no longer" }));
  await waitFor(() => expect(asked.find((a) => a.path === "/api/coming/5")?.body).toEqual({ left: true }));
});

it("leaves nothing before it is asked to: programs open addresses, too", async () => {
  window.location.hash = "#2.3.KEY";
  const asked = serving({ "POST /api/leave": { title: "Pipeline" } });
  show(<LeavePage />);
  await new Promise((done) => setTimeout(done, 50));
  expect(asked).toHaveLength(0);
  await userEvent.click(screen.getByRole("button", { name: "Get it no longer" }));
  await screen.findByText("You get “Pipeline” no longer");
  expect(asked[0].query.get("key")).toBe("2.3.KEY");
});
