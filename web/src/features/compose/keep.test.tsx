import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Brief, Refused, type Report } from "../../api/client";
import { serving, show } from "../../testing";
import { KeepDialog } from "./KeepDialog";

const brief: Brief = { version: 1, start: "deals", groups: [{ field: "stage" }] };
const report = {
  id: 7,
  title: "Stages",
  description: "All of them",
  folder: 2,
  version: 4,
  mayChange: true,
  brief,
  team: false,
  shown: [],
} as unknown as Report;
const folders = [
  { id: 1, name: "Private", private: true, mayChange: true },
  { id: 2, name: "Company", mayChange: true },
  { id: 3, name: "Read only", mayChange: false },
];
const boards = [
  { id: 5, title: "Monday", mayChange: true },
  { id: 6, title: "Theirs", mayChange: false },
];
const lists = {
  "GET /api/me": { id: 1, mayCompose: true, mayKeep: true },
  "GET /api/folders": folders,
  "GET /api/boards": boards,
};
const kept = vi.fn();
const save = () => userEvent.click(screen.getByRole("button", { name: "Save" }));
beforeEach(() => kept.mockClear());

describe("keeping a new report", () => {
  const open = (more = {}) =>
    show(<KeepDialog brief={brief} suggestion="Deals by stage" onClose={vi.fn()} onKept={kept} {...more} />);

  it("suggests a title and offers the folders that one may change", async () => {
    const asked = serving({
      ...lists,
      "POST /api/reports": ({ body }: { body: unknown }) => ({ id: 9, ...(body as object) }),
    });
    open();
    await waitFor(() => expect(screen.getAllByRole("option", { name: /Private|Company/ })).toHaveLength(2));
    expect(screen.queryByRole("option", { name: /Read only/ })).toBeNull();
    await userEvent.type(screen.getByRole("textbox", { name: "Description" }), "For Mondays");
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Folder" }), "2");
    await save();
    await waitFor(() => expect(kept).toHaveBeenCalled());
    expect(asked.find((a) => a.method === "POST")?.body).toMatchObject({
      title: "Deals by stage",
      description: "For Mondays",
      folder: 2,
      brief,
      noDownload: false,
    });
    expect(
      asked.some((a) => a.method === "PUT"),
      "it is placed nowhere",
    ).toBe(false);
  });

  it("says whether the dashboard that is named is there or will be made, and places it", async () => {
    const asked = serving({
      ...lists,
      "POST /api/reports": { id: 9 },
      "PUT /api/reports/9/board": { id: 5, title: "Monday" },
    });
    open();
    expect(await screen.findByText("Left empty, it can be placed later.")).toBeTruthy();
    const name = screen.getByRole("combobox", { name: "Dashboard" });
    await userEvent.type(name, "theirs");
    expect(
      screen.getByText("A dashboard of this name is made for it."),
      "one that may not be changed is none to place it on",
    ).toBeTruthy();
    await userEvent.clear(name);
    await userEvent.type(name, "monday");
    expect(screen.getByText("It will stand on this dashboard.")).toBeTruthy();
    await save();
    await waitFor(() => expect(kept).toHaveBeenCalled());
    expect(asked.find((a) => a.path === "/api/reports/9/board")?.body).toEqual({ name: "monday" });
  });

  it("says beside the title why it is refused, and loses nothing", async () => {
    serving({
      ...lists,
      "POST /api/reports": () => {
        throw new Refused(409, {
          title: "Taken",
          detail: "Another report here has this title.",
          status: 409,
          errors: [{ pointer: "/title", message: "Another report here has this title." }],
        });
      },
    });
    open();
    await userEvent.type(screen.getByRole("textbox", { name: "Description" }), "For Mondays");
    await save();
    expect((await screen.findByRole("alert")).textContent).toBe("Another report here has this title.");
    expect(screen.getByRole("textbox", { name: "Title" }).getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByRole<HTMLTextAreaElement>("textbox", { name: "Description" }).value).toBe("For Mondays");
    expect(kept).not.toHaveBeenCalled();
  });
});

describe("keeping a change", () => {
  const changed: Brief = { ...brief, groups: [{ field: "owner" }] };
  const open = (uses: unknown) => {
    const asked = serving({
      ...lists,
      "GET /api/reports/7/uses": uses,
      "POST /api/difference": ["grouped by owner, was by stage"],
      "PUT /api/reports/7": { id: 7 },
    });
    show(<KeepDialog report={report} from={report} brief={changed} suggestion="" onClose={vi.fn()} onKept={kept} />);
    return asked;
  };

  it("says what changes, and where it stands", async () => {
    open({
      uses: [
        { board: 5, title: "Monday" },
        { pages: true, title: "Deals" },
      ],
      hidden: 2,
    });
    expect(await screen.findByText("What changes, there too")).toBeTruthy();
    expect(screen.getByText("grouped by owner, was by stage")).toBeTruthy();
    expect(
      screen.getByText("It stands on “Monday”, the pages of deals and 2 you may not open, which will show this."),
    ).toBeTruthy();
  });

  it("says what changes alone where it stands nowhere, and tells the version that it was made from", async () => {
    const asked = open({ uses: [], hidden: 0 });
    expect(await screen.findByText("What changes")).toBeTruthy();
    expect(screen.queryByText(/It stands on/)).toBeNull();
    expect(screen.queryByRole("combobox", { name: "Dashboard" })).toBeNull();
    await save();
    await waitFor(() => expect(kept).toHaveBeenCalledWith({ id: 7 }));
    expect(asked.find((a) => a.method === "PUT")?.body).toMatchObject({ version: 4, title: "Stages", brief: changed });
  });
});
