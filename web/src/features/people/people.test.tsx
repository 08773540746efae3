import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { invitees } from "./invitees";
import { KeyDialog } from "./KeyDialog";
import { PeoplePage } from "./PeoplePage";

describe("people who are pasted", () => {
  it("are read from CSV and from a spreadsheet, with or without headings, team and role", () => {
    expect(
      invitees(
        'Name,E-mail,Team,Role\n"Ness, Wila",wila@a.example,Inland\n\nrui@a.example\nIdun;idun@a.example;;Composer\nOle\tole@a.example\tInland\treader',
        "reader",
      ),
    ).toEqual({
      people: [
        { name: "Ness, Wila", email: "wila@a.example", team: "Inland", role: "reader" },
        { name: "rui", email: "rui@a.example", team: "", role: "reader" },
        { name: "Idun", email: "idun@a.example", team: "", role: "composer" },
        { name: "Ole", email: "ole@a.example", team: "Inland", role: "reader" },
      ],
      wrong: [],
    });
  });

  it("say on which lines there is no address, of any number", () => {
    expect(invitees("Wila\nwila@a.example\nRui, Inland", "reader").wrong).toEqual([1, 3]);
    expect(invitees("", "reader")).toEqual({ people: [], wrong: [] });
  });
});

const people = [
  { id: 1, name: "Osric Jarrow", email: "o@a.example", team: "Key sites", role: "administrator", state: "active" },
  { id: 3, name: "Aldo Marlow", email: "a@a.example", team: "Inland", role: "reader", state: "active" },
  { id: 4, name: "Runa Kestle", email: "r@a.example", team: "Inland", role: "reader", state: "left" },
];
const lists = { "GET /api/me": { id: 1, role: "administrator", rights: ["people"] }, "GET /api/people": people };

describe("looking after people", () => {
  it("is for administrators", async () => {
    serving({ "GET /api/me": { id: 3, role: "reader" } });
    show(<PeoplePage />);
    expect(await screen.findByText(/looked after by administrators/)).toBeTruthy();
  });

  it("shows an invitation's address once, to be handed on", async () => {
    const asked = serving({
      ...lists,
      "POST /api/people": [{ id: 9, email: "wila@a.example", path: "/key#ABC" }],
    });
    show(<PeoplePage />);
    await userEvent.click(await screen.findByRole("button", { name: "Invite people" }));
    const dialog = within(screen.getByRole("dialog"));
    await userEvent.type(dialog.getByRole("textbox", { name: "Name" }), "Wila");
    await userEvent.type(dialog.getByRole("textbox", { name: "E-mail" }), "wila@a.example");
    await userEvent.click(dialog.getByRole("button", { name: "Invite" }));
    const address = await screen.findByRole<HTMLInputElement>("textbox", { name: "Address for wila@a.example" });
    expect(address.value).toBe(`${location.origin}/key#ABC`);
    expect(asked.find((a) => a.method === "POST")?.body).toEqual({
      people: [{ name: "Wila", email: "wila@a.example", team: "", role: "reader" }],
    });
  });

  it("mails invitations by itself where there is a server for mail, once", async () => {
    const asked = serving({ "GET /api/settings/mail": { host: "mail.example" }, "POST /api/letters": null });
    show(<KeyDialog keys={[{ id: 9, email: "wila@a.example", path: "/key#ABC" }]} onClose={() => {}} />);
    expect(await screen.findByText(/It was mailed to them as well/)).toBeTruthy();
    expect(asked.filter((a) => a.path === "/api/letters").map((a) => a.body)).toEqual([{ keys: ["ABC"] }]);
    expect(screen.queryByRole("button", { name: "Mail it" })).toBeNull();
  });

  it("says what is refused beside the only person's field", async () => {
    serving({
      ...lists,
      "POST /api/people": () => {
        throw new Refused(422, {
          title: "Refused",
          detail: "It is taken.",
          status: 422,
          errors: [{ pointer: "/people/0/email", message: "It is taken." }],
        } as never);
      },
    });
    show(<PeoplePage />);
    await userEvent.click(await screen.findByRole("button", { name: "Invite people" }));
    await userEvent.click(within(screen.getByRole("dialog")).getByRole("button", { name: "Invite" }));
    await waitFor(() =>
      expect(screen.getByRole("textbox", { name: "E-mail" }).getAttribute("aria-invalid")).toBe("true"),
    );
  });

  it("shows what someone has before they are taken off, and hands over all of it or by kind", async () => {
    const asked = serving({
      ...lists,
      "GET /api/people/3/holds": [
        { kind: "deals", label: "Deals", count: 12 },
        { kind: "activities", label: "Activities not done yet", count: 3 },
      ],
      "POST /api/people/3/leave": null,
    });
    show(<PeoplePage />);
    await userEvent.click(await screen.findByRole("button", { name: "More to do with Aldo Marlow" }));
    await userEvent.click(screen.getByRole("menuitem", { name: "Take off and hand over…" }));
    expect((await screen.findByText(/activities not done yet/)).textContent).toBe("3 activities not done yet");
    const everything = screen.getByRole("combobox", { name: "Who takes everything over" });
    expect(within(everything).queryByRole("option", { name: "Runa Kestle" }), "who left takes nothing over").toBeNull();
    await userEvent.selectOptions(everything, "Osric Jarrow");
    await userEvent.selectOptions(
      screen.getByRole("combobox", { name: "Who takes over the activities not done yet" }),
      "stays with Aldo Marlow",
    );
    await userEvent.click(screen.getByRole("button", { name: "Take off" }));
    await waitFor(() => expect(asked.find((a) => a.method === "POST")?.body).toEqual({ to: { deals: 1 } }));
  });
});

describe("rights one by one", () => {
  const rights = [
    { key: "targets", words: "set targets" },
    { key: "style", words: "set the house style" },
  ];
  it("are given to someone who is picked and taken from a team, each as the list was read", async () => {
    let version = 4;
    const holders = [{ kind: "team", id: 2, name: "Inland", rights: ["style", "targets"] }];
    const asked = serving({
      ...lists,
      "GET /api/rights": () => ({ rights, holders, version }),
      "GET /api/subjects": [
        { kind: "team", id: 2, name: "Inland" },
        { kind: "person", id: 3, name: "Aldo Marlow" },
      ],
      "PUT /api/rights/team/2": () => {
        holders[0].rights = ["targets"];
        version++;
        return null;
      },
      "PUT /api/rights/person/3": null,
    });
    show(<PeoplePage />);
    await userEvent.click(await screen.findByRole("button", { name: "Rights one by one" }));
    await userEvent.click(await screen.findByRole("checkbox", { name: "Inland: set the house style" }));
    await waitFor(() =>
      expect(screen.getByRole("checkbox", { name: "Inland: set the house style" })).toHaveProperty("checked", false),
    );
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Give rights to" }), "person 3");
    await userEvent.click(screen.getByRole("checkbox", { name: "Aldo Marlow: set targets" }));
    await waitFor(() => expect(asked.filter((a) => a.method === "PUT")).toHaveLength(2));
    expect(asked.filter((a) => a.method === "PUT").map((a) => a.body)).toEqual([
      { rights: ["targets"], version: 4 },
      { rights: ["targets"], version: 5 },
    ]);
  });

  it("are not offered to who looks after people by a right", async () => {
    serving({ "GET /api/me": { id: 3, role: "reader", rights: ["people"] }, "GET /api/people": people });
    show(<PeoplePage />);
    expect(await screen.findByRole("button", { name: "Invite people" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Rights one by one" })).toBeNull();
    expect(await screen.findByRole("button", { name: "More to do with Runa Kestle" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "More to do with Osric Jarrow" }), "an administrator").toBeNull();
    expect(screen.queryByRole("button", { name: "More to do with Aldo Marlow" }), "oneself").toBeNull();
  });
});
