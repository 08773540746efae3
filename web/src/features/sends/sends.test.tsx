import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused, type Schemas } from "../../api/client";
import { serving, show } from "../../testing";
import { SendDialog } from "./SendDialog";
import { SendsPage } from "./SendsPage";
import { happens, switched } from "./terms";

const served = {
  "GET /api/me": { id: 1, name: "Osric Jarrow", role: "composer", today: "2026-05-14" },
  "GET /api/subjects": [
    { kind: "person", id: 1, name: "Osric Jarrow" },
    { kind: "person", id: 3, name: "Aldo Marlow" },
    { kind: "team", id: 3, name: "West shore" },
  ],
  "GET /api/settings/mail": { host: "" },
  "POST /api/answer": { summaries: [{ key: "t", label: "Sum of value" }] },
};
const brief = { version: 1 as const, start: "deals", summaries: [{ key: "t", fn: "sum" as const, of: "value" }] };

it("lets go of what another occasion has no use for", () => {
  const week = { every: "week" as const, on: 5, at: "07:00" };
  expect(switched(week, "day")).toEqual({ every: "day", at: "07:00" });
  expect(switched({ every: "month", on: 31, at: "07:00" }, "week")).toEqual({ every: "week", on: 7, at: "07:00" });
  expect(switched(week, "comes")).toEqual({ if: "comes" });
  expect(switched({ if: "over", line: "5", summary: "t" }, "under")).toEqual({ if: "under", line: "5", summary: "t" });
  expect(switched({ if: "comes" }, "week")).toEqual({ every: "week", on: 1, at: "08:00" });
});

it("offers what can happen in a report, and nothing of a dashboard", () => {
  expect(happens(undefined)).toEqual([]);
  expect(happens(brief).map(([k]) => k)).toEqual(["over", "under", "comes", "leaves"]);
  expect(happens({ ...brief, parts: [] } as never).map(([k]) => k)).toEqual(["over", "under"]);
  const aimed = { ...brief, target: "9", period: { field: "closed", within: "this_year" } } as never;
  expect(happens(aimed).map(([k]) => k)).toContain("at_risk");
});

it("sends a report when a number passes a line, to people and teams, and says that mails wait for a server", async () => {
  const asked = serving({ ...served, "POST /api/deliveries": { id: 9, words: "when sum of value comes over 5" } });
  const close = vi.fn();
  show(<SendDialog kind="report" item={4} title="Pipeline" brief={brief} onClose={close} />);
  await screen.findByText(/mails wait until one is/);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "When it is sent" }), "over");
  await userEvent.type(screen.getByRole("textbox", { name: "The line" }), "5");
  const more = screen.getByRole("combobox", { name: "Send it to someone else, too" });
  await userEvent.selectOptions(more, "team 3");
  await userEvent.selectOptions(more, "person 3");
  await userEvent.click(screen.getByRole("button", { name: "Not to Osric Jarrow" }));
  await userEvent.click(screen.getByRole("button", { name: "Send it so" }));
  await waitFor(() => expect(close).toHaveBeenCalled());
  const body = asked.find((a) => a.path === "/api/deliveries")?.body as Schemas["NewDeliveryBody"];
  expect(body.terms.when).toEqual({ if: "over", line: "5" });
  expect(body.terms.people).toEqual([3]);
  expect(body.terms.teams).toEqual([3]);
});

it("keeps what was entered where it is refused, and says why", async () => {
  serving({
    ...served,
    "POST /api/deliveries": () => {
      throw new Refused(422, { title: "Refused", detail: "Choose to whom it is sent.", status: 422 } as never);
    },
  });
  const close = vi.fn();
  show(<SendDialog kind="board" item={4} title="Monday" onClose={close} />);
  await userEvent.type(await screen.findByRole("textbox", { name: "A word of yours in it" }), "Look.");
  await userEvent.click(screen.getByRole("button", { name: "Send it so" }));
  await screen.findByText(/Choose to whom it is sent/);
  expect(close).not.toHaveBeenCalled();
  expect((screen.getByRole("textbox", { name: "A word of yours in it" }) as HTMLTextAreaElement).value).toBe("Look.");
});

it("says of each mail what became of it and why, and offers again what may not have arrived", async () => {
  const mail = (id: number, state: Schemas["OutMailBody"]["state"], reason: string, readable: boolean) => ({
    id,
    delivery: 2,
    recipient: `Person ${id}`,
    address: "",
    subject: "Monday",
    state,
    reason,
    tries: 1,
    made: "now",
    sent: "",
    due: "",
    readable,
  });
  const asked = serving({
    ...served,
    "GET /api/deliveries": [
      {
        id: 2,
        owner: "Osric Jarrow",
        title: "Monday",
        kind: "board",
        item: 1,
        of: "Monday",
        terms: { when: { every: "day", at: "08:00" }, people: [1] },
        words: "every day at 08:00",
        version: 1,
        paused: true,
        why: "It failed.",
        next: "",
        last: "",
        left: [],
      },
    ],
    "GET /api/outbox": [mail(1, "sent", "", true), mail(2, "unsure", "Uzzel was stopped.", false)],
    "POST /api/outbox/2/again": undefined,
    "PUT /api/deliveries/2/paused": undefined,
  });
  show(<SendsPage />, "/deliveries?of=2");
  const unsure = (await screen.findByText("may have arrived")).closest("tr");
  expect(unsure?.textContent).toContain("Uzzel was stopped.");
  expect(screen.getAllByRole("button", { name: "Send again" })).toHaveLength(1);
  expect(screen.getByRole("link", { name: "The mail to Person 1" }).getAttribute("href")).toBe("/api/outbox/1/letter");
  expect(screen.queryByRole("link", { name: "The mail to Person 2" })).toBeNull();
  screen.getByText(/It failed/);
  await userEvent.click(screen.getByRole("button", { name: "Go on" }));
  await waitFor(() => expect(asked.find((a) => a.method === "PUT")?.body).toEqual({ on: false }));
});
