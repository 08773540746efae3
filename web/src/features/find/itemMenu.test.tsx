import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { serving, show } from "../../testing";
import type { Found } from "./FindPage";
import { ItemMenu } from "./ItemMenu";

const item = {
  kind: "report",
  id: 5,
  title: "Won by owner",
  folderId: 9,
  mayChange: true,
  mayShare: true,
} as unknown as Found;
const kept = {
  id: 5,
  title: "Won by owner",
  description: "Each quarter",
  folder: 9,
  version: 4,
  brief: { version: 1, start: "deals" },
  noDownload: true,
  shown: [],
  shownFixed: false,
  team: true,
};
const answers = {
  "GET /api/me": { id: 1, mayCompose: true, mayKeep: true },
  "GET /api/folders": [
    { id: 3, name: "Mine", private: true, mayChange: true },
    { id: 9, name: "West shore", mayChange: false },
  ],
  "GET /api/subjects": [],
  "GET /api/reports/5": kept,
};
const choose = async (name: string) => {
  await userEvent.click(screen.getByRole("button", { name: "More to do with Won by owner" }));
  await userEvent.click(await screen.findByRole("menuitem", { name }));
};

describe("what can be done with what was found", () => {
  it("renames a report and leaves all else of it as it is", async () => {
    const asked = serving({ ...answers, "PUT /api/reports/5": kept });
    show(<ItemMenu item={item} />);
    await choose("Rename");
    await userEvent.clear(screen.getByLabelText("Name"));
    await userEvent.type(screen.getByLabelText("Name"), "Won, by owner");
    await userEvent.click(screen.getByRole("button", { name: "Rename" }));
    await waitFor(() => expect(asked.some((a) => a.method === "PUT")).toBe(true));
    const { id: _, ...all } = kept;
    expect(asked.find((a) => a.method === "PUT")?.body).toEqual({ ...all, title: "Won, by owner" });
  });

  it("makes a copy where one may put it, which says what it is a copy of", async () => {
    const asked = serving({ ...answers, "POST /api/reports": { ...kept, id: 6 } });
    show(<ItemMenu item={item} />);
    await choose("Make a copy");
    await screen.findByRole("option", { name: "Mine (only you)" });
    await userEvent.click(screen.getByRole("button", { name: "Make it" }));
    await waitFor(() => expect(asked.some((a) => a.method === "POST")).toBe(true));
    expect(asked.find((a) => a.method === "POST")?.body).toEqual({
      title: "Won by owner (copy)",
      description: "Each quarter",
      brief: kept.brief,
      shown: [],
      shownFixed: false,
      folder: 3,
      from: 5,
    });
  });

  it("offers a reader no more than is theirs", async () => {
    serving({ ...answers, "GET /api/me": { id: 8, mayCompose: false, mayKeep: false } });
    show(<ItemMenu item={{ ...item, mayChange: false, mayShare: false }} />);
    await userEvent.click(screen.getByRole("button", { name: "More to do with Won by owner" }));
    const items = (await screen.findAllByRole("menuitem")).map((i) => i.textContent);
    expect(items).toEqual(["Report as a file"]);
  });
});
