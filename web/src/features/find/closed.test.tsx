import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { Report } from "../../api/client";
import { serving, show } from "../../testing";
import { ClosedAt } from "../boards/ClosedAt";
import { DeleteMany } from "./DeleteMany";
import type { Found } from "./FindPage";

const report = { id: 5, version: 2, title: "Won by owner", mayChange: true } as unknown as Report;

describe("a report that stands before people who cannot read it", () => {
  const places = [
    {
      board: 3,
      title: "West shore",
      pages: false,
      to: ["Nuno Tarn", "Hale Winterton"],
      into: 9,
      intoName: "West shore",
    },
    { board: 0, title: "Customers", pages: true, to: ["Nuno Tarn"], into: 0, intoName: "" },
  ];

  it("says where and for how many, each person once, and moves it in one step", async () => {
    let open = false;
    const asked = serving({
      "GET /api/reports/5/closed": () => (open ? [] : places),
      "PUT /api/reports/5/folder": () => {
        open = true;
        return { ...report, version: 3 };
      },
    });
    show(<ClosedAt report={report} />);
    expect((await screen.findByRole("note")).textContent).toContain(
      "It stands on “West shore”, the pages of customers, where 2 people cannot read it",
    );
    await userEvent.click(screen.getByRole("button", { name: "Move it to “West shore”" }));
    expect(asked.find((a) => a.method === "PUT")?.body).toEqual({ folder: 9 });
    await waitFor(() => expect(screen.queryByRole("note")).toBeNull());
  });

  it("says that there is no such folder, where there is none", async () => {
    serving({ "GET /api/reports/5/closed": [places[1]] });
    show(<ClosedAt report={report} />);
    expect((await screen.findByRole("note")).textContent).toContain("where Nuno Tarn cannot read it");
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("asks nothing for those who may not change it", () => {
    const asked = serving({});
    show(<ClosedAt report={{ ...report, mayChange: false }} />);
    expect(asked).toHaveLength(0);
  });
});

describe("before things are deleted", () => {
  const found = (kind: string, id: number, title: string) => ({ kind, id, title }) as unknown as Found;
  const items = [found("report", 1, "Alone"), found("report", 2, "Pipeline"), found("folder", 3, "Old")];

  it("says of each report where it stands, and that folders go for good", async () => {
    serving({
      "GET /api/reports/1/uses": { uses: [], hidden: 0 },
      "GET /api/reports/2/uses": {
        uses: [
          { board: 3, title: "West shore", pages: false },
          { board: 0, title: "Customers", pages: true },
        ],
        hidden: 1,
      },
    });
    const onDelete = vi.fn();
    show(<DeleteMany items={items} onDelete={onDelete} onClose={vi.fn()} />);
    expect((await screen.findByRole("listitem")).textContent).toBe(
      "Pipeline on “West shore”, the pages of customers, 1 that you may not open",
    );
    expect(screen.getByText(/folders go for good/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Delete" }));
    expect(onDelete).toHaveBeenCalledOnce();
  });

  it("lets nothing be deleted before it is known, and says where nothing stands anywhere", async () => {
    serving({ "GET /api/reports/1/uses": { uses: [], hidden: 0 } });
    show(<DeleteMany items={[items[0]]} onDelete={vi.fn()} onClose={vi.fn()} />);
    expect(screen.getByRole("button", { name: "Delete" })).toHaveProperty("disabled", true);
    expect(await screen.findByText("It stands on no dashboard and no record page.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Delete" })).toHaveProperty("disabled", false);
  });
});
