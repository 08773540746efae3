import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { Changes } from "./Changes";
import { Exceptions } from "./Exceptions";

const types = [
  { type: "deals", label: "Deals", how: "own", version: 1 },
  { type: "contacts", label: "Contacts", how: "", version: 1 },
];
const subjects = [
  { kind: "person", id: 3, name: "Aldo Marlow" },
  { kind: "team", id: 1, name: "West shore" },
];

describe("exceptions to what people see", () => {
  it("begin with a team, are changed, and sent as they are with the version that was read", async () => {
    const asked = serving({
      "GET /api/subjects": subjects,
      "GET /api/settings/exceptions": {
        exceptions: [{ type: "contacts", kind: "person", subject: 3, how: "own" }],
        version: 4,
      },
      "PUT /api/settings/exceptions": null,
    });
    show(<Exceptions types={types} />);
    await screen.findByRole("combobox", { name: "Who, exception 1" });
    expect(screen.queryByRole("button", { name: "Save exceptions" }), "nothing is changed").toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "An exception for a team or person" }));
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Which, exception 2" }), "their team’s");
    await userEvent.click(screen.getByRole("button", { name: "Save exceptions" }));
    await waitFor(() => expect(asked.some((a) => a.method === "PUT")).toBe(true));
    expect(asked.find((a) => a.method === "PUT")?.body).toEqual({
      exceptions: [
        { type: "contacts", kind: "person", subject: 3, how: "own" },
        { type: "deals", kind: "team", subject: 1, how: "team" },
      ],
      version: 4,
    });
  });

  it("stay on the screen where they are refused, and are let go when one says so", async () => {
    serving({
      "GET /api/subjects": subjects,
      "GET /api/settings/exceptions": { exceptions: [], version: 0 },
      "PUT /api/settings/exceptions": () => {
        throw new Refused(409, { title: "Refused", detail: "Somebody was quicker.", status: 409 });
      },
    });
    show(<Exceptions types={types} />);
    await waitFor(() =>
      expect(
        screen.getByRole<HTMLButtonElement>("button", { name: "An exception for a team or person" }).disabled,
      ).toBe(false),
    );
    await userEvent.click(screen.getByRole("button", { name: "An exception for a team or person" }));
    await userEvent.click(screen.getByRole("button", { name: "Save exceptions" }));
    expect(await screen.findByRole("combobox", { name: "Who, exception 1" })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "As they were" }));
    expect(screen.queryByRole("combobox", { name: "Who, exception 1" })).toBeNull();
  });
});

describe("what was changed in the settings", () => {
  const change = {
    id: 7,
    at: 1,
    by: "Osric Jarrow",
    what: "Which deals people may see",
    points: [{ what: "", before: "everyone’s", after: "their own" }],
    back: true,
  };

  it("is searched, says what it was, and is taken back where it can be", async () => {
    const asked = serving({
      "GET /api/settings/changes": {
        changes: [change, { ...change, id: 6, back: false, why: "It was changed again since." }],
        more: true,
      },
      "POST /api/settings/changes/7/back": null,
    });
    show(<Changes />);
    expect((await screen.findAllByText("Which deals people may see")).length).toBe(2);
    expect(screen.getByText("It was changed again since.")).toBeTruthy();
    expect(screen.getAllByRole("button", { name: /^Take back/ })).toHaveLength(1);
    await userEvent.type(screen.getByRole("searchbox"), "deals");
    await waitFor(() => expect(asked.some((a) => a.query.get("search") === "deals")).toBe(true));
    await userEvent.click(screen.getByRole("button", { name: "Earlier ones" }));
    await waitFor(() => expect(asked.some((a) => a.query.get("before") === "6")).toBe(true));
    await userEvent.click(await screen.findByRole("button", { name: "Take back: Which deals people may see" }));
    await waitFor(() => expect(asked.some((a) => a.path.endsWith("/7/back"))).toBe(true));
  });
});
