import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { type Brief, Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { BehindList } from "./Behind";

const brief: Brief = { version: 1, start: "deals", groups: [{ field: "stage" }], columns: [{ field: "name" }] };
const kept = {
  version: 1,
  start: "deals",
  filter: { all: [{ field: "stage", is: "any_of", values: ["Enquiry"] }] },
  columns: [{ field: "name" }],
};
const type = {
  key: "deals",
  label: "Deals",
  one: "deal",
  name: "name",
  owner: "owner",
  backs: [],
  shown: ["name"],
  fields: [{ key: "name", label: "Name", kind: "text", operators: ["contains"] }],
};
const common = {
  "GET /api/me": { id: 1, mayCompose: true, today: "2026-05-14" },
  "GET /api/schema": { types: [type], periods: [], units: [], chartKinds: [], currency: "€", readers: "people" },
  "POST /api/behind": {
    type: "deals",
    total: 0,
    from: 0,
    columns: [{ field: "name", label: "Name", kind: "text", to: "", number: false }],
    rows: [],
    sentence: [],
  },
  "POST /api/list": { type: "deals", total: 0, from: 0, columns: [], rows: [], sentence: [] },
};
const list = () =>
  show(
    <BehindList
      brief={brief}
      sentence="Deals, by stage."
      picked={{ marks: [{ rows: ["=Enquiry"], across: [] }], words: "Enquiry" }}
      height={300}
    />,
  );

describe("the records behind a mark", () => {
  it("are sorted by their header, of the mark all the same", async () => {
    const asked = serving({ ...common, "POST /api/behind/report": kept });
    list();
    await userEvent.click(await screen.findByRole("button", { name: "Name" }));
    await waitFor(() =>
      expect(asked.filter((a) => a.path === "/api/behind").at(-1)?.body).toMatchObject({
        brief: { order: [{ field: "name" }] },
        marks: [{ rows: ["=Enquiry"] }],
      }),
    );
  });

  it("are kept as a report of the conditions that the mark stands for", async () => {
    serving({ ...common, "POST /api/behind/report": kept });
    list();
    const link = await screen.findByRole("link", { name: "Keep as a report" });
    expect(
      JSON.parse(new URL(link.getAttribute("href") ?? "", location.origin).searchParams.get("brief") ?? ""),
    ).toEqual(kept);
  });

  it("say why they cannot be kept where no condition says them", async () => {
    serving({
      ...common,
      "POST /api/behind/report": () => {
        throw new Refused(422, { title: "Refused", detail: "It comes round.", status: 422 } as never);
      },
    });
    list();
    await waitFor(() =>
      expect(screen.getByRole("button", { name: "Export" }).getAttribute("title")).toBe("It comes round."),
    );
    expect(screen.queryByRole("link", { name: "Keep as a report" })).toBeNull();
  });
});
