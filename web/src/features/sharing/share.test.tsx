import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { ShareDialog } from "./ShareDialog";

const subjects = [
  { kind: "team", id: 2, name: "West shore" },
  { kind: "person", id: 7, name: "Petra Gantry" },
];

describe("sharing one report", () => {
  it("lets a team in to read and a person to change, on what was read", async () => {
    const asked = serving({
      "GET /api/subjects": subjects,
      "GET /api/shares/report/5": { access: [{ kind: "team", subject: 2, mayChange: false }], version: 3 },
      "PUT /api/shares/report/5": null,
    });
    const close = vi.fn();
    show(<ShareDialog kind="report" id={5} title="Won by owner" onClose={close} />);
    const list = await screen.findByRole("list", { name: "Access" });
    await within(list).findByText("West shore");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Save" }).disabled).toBe(true);
    await userEvent.selectOptions(screen.getByLabelText("Let someone else in"), "person 7");
    await userEvent.selectOptions(screen.getByLabelText("What Petra Gantry may do"), "change");
    await userEvent.click(screen.getByRole("button", { name: "Take access from West shore" }));
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(asked.find((a) => a.method === "PUT")?.body).toEqual({
      access: [{ kind: "person", subject: 7, mayChange: true }],
      version: 3,
    });
  });

  it("stays open with what was chosen where it is refused", async () => {
    serving({
      "GET /api/subjects": subjects,
      "GET /api/shares/board/5": { access: [], version: 0 },
      "PUT /api/shares/board/5": () => {
        throw new Refused(409, {
          title: "Conflict",
          status: 409,
          detail: "This dashboard was changed by someone else meanwhile.",
        });
      },
    });
    const close = vi.fn();
    show(<ShareDialog kind="board" id={5} title="Monday" onClose={close} />);
    await screen.findByText("Nobody besides those who may open its folder.");
    await userEvent.selectOptions(screen.getByLabelText("Let someone else in"), "everyone 0");
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    expect((await screen.findByRole("alert")).textContent).toContain("by someone else");
    expect(within(screen.getByRole("list", { name: "Access" })).getByText("Everyone")).toBeTruthy();
    expect(close).not.toHaveBeenCalled();
  });
});
