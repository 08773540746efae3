import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { Brief, Report, Schemas } from "../../api/client";
import { narrowed } from "../../brief/parts";
import { serving, show } from "../../testing";
import { Sift } from "./Sift";
import { Warnings } from "./Warnings";
import { Why } from "./Why";

const brief: Brief = {
  version: 1,
  start: "deals",
  filter: { all: [{ field: "status", is: "any_of", values: ["open"] }] },
};

describe("the sift", () => {
  const steps = [
    { left: 2600, out: 0, words: "", what: "all" },
    { left: 400, out: 2200, words: "status is open", what: "filter" },
    { left: 400, out: 0, words: "value is filled", what: "filter" },
  ] as Schemas["StepBody"][];

  it("says how many records each condition leaves, and lets those be opened that it took out", () => {
    show(<Sift brief={brief} steps={steps} />);
    const [all, open, filled] = screen.getAllByRole("button") as HTMLButtonElement[];
    expect(all.textContent).toBe("2,600 in all");
    expect(open.textContent).toBe("400 status is open");
    expect(open.title).toBe("takes out 2,200: see them");
    expect([all.disabled, open.disabled, filled.disabled]).toEqual([true, false, true]);
  });

  it("asks for the records of the step that is opened", async () => {
    const asked = serving({ "POST /api/dropped": { columns: [], rows: [], total: 0 } });
    show(<Sift brief={brief} steps={steps} part={1} />);
    await userEvent.click(screen.getByRole("button", { name: /status is open/ }));
    expect(screen.getByRole("dialog", { name: "Taken out by “status is open”" })).toBeTruthy();
    await waitFor(() => expect(asked[0]?.body).toMatchObject({ part: 1, step: 0, from: 0 }));
  });

  it("takes no room where there is nothing to say", () => {
    const { container } = show(<Sift brief={brief} steps={steps.slice(0, 1)} />);
    expect(container.innerHTML).toBe("");
  });

  it("stands for each part that has conditions", () => {
    expect(narrowed(brief)).toEqual([true]);
    expect(narrowed({ version: 1, start: "deals" })).toEqual([false]);
    expect(
      narrowed({
        version: 1,
        parts: [
          { key: "a", start: "deals", whose: "mine" },
          { key: "b", start: "activities" },
        ],
      } as Brief),
    ).toEqual([true, false]);
  });
});

describe("warnings", () => {
  const mended: Brief = { ...brief, blank: true };
  const list = [
    {
      code: "quiet",
      text: "In 126 deals expected close is empty.",
      do: "Show them",
      brief: { ...brief, limit: 5 },
      show: true,
    },
    { code: "today", text: "Today is not in it.", do: "Take today in", brief: mended },
    { code: "third", text: "The customers overlap." },
  ] as Schemas["WarningBody"][];
  const report = { id: 7, mayChange: true } as Report;

  it("are folded to one line, which opens them all and does what one says", async () => {
    serving({});
    const change = vi.fn();
    show(<Warnings list={list} onChange={change} />);
    expect(screen.getByText("In 126 deals expected close is empty.")).toBeTruthy();
    expect(screen.getByText("and 2 more")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: /^! ?Warning|^Warning/ }));
    expect(screen.getAllByRole("listitem")).toHaveLength(3);
    await userEvent.click(screen.getByRole("button", { name: "Take today in" }));
    expect(change).toHaveBeenCalledWith(mended);
  });

  it("is dismissed for everyone where the report may be changed, and stays away", async () => {
    let dismissed: string[] = [];
    const asked = serving({
      "GET /api/reports/7/dismissed": () => dismissed,
      "PUT /api/reports/7/dismissed": ({ body }: { body: unknown }) => {
        dismissed = [(body as { code: string }).code];
        return {};
      },
    });
    const { rerender } = show(<Warnings list={list.slice(0, 1)} report={report} onChange={vi.fn()} />);
    await userEvent.click(screen.getByRole("button", { name: /Warning/ }));
    await userEvent.click(screen.getByRole("button", { name: "Dismiss" }));
    expect(screen.queryByRole("button", { name: /Warning/ })).toBeNull();
    await waitFor(() =>
      expect(asked.filter((a) => a.method === "GET" && a.path.endsWith("dismissed"))).toHaveLength(2),
    );
    rerender(<Warnings list={list} report={report} onChange={vi.fn()} />);
    expect(screen.queryByText(/126 deals/)).toBeNull();
    expect(screen.getByText(/Today is not in it/)).toBeTruthy();
  });

  it("is dismissed for now alone by those who may not change the report", async () => {
    const asked = serving({ "GET /api/reports/7/dismissed": [] });
    show(<Warnings list={list.slice(0, 1)} report={{ ...report, mayChange: false }} onChange={vi.fn()} />);
    await userEvent.click(screen.getByRole("button", { name: /Warning/ }));
    await userEvent.click(screen.getByRole("button", { name: "Dismiss" }));
    expect(screen.queryByText(/126 deals/)).toBeNull();
    expect(asked.every((a) => a.method === "GET")).toBe(true);
  });
});

describe("why a record is here, or not", () => {
  const why = (verdict: unknown) =>
    serving({
      "GET /api/find-records": ({ query }: { query: URLSearchParams }) =>
        query.get("search") === "Quay" ? [{ id: "12", name: "Quay extension" }] : [],
      "POST /api/why": verdict,
    });
  const name = async (search: string) => {
    show(<Why brief={brief} type="deals" onClose={vi.fn()} />);
    await userEvent.type(screen.getByRole("combobox", { name: "Name or number of a record" }), search);
  };

  it("names each condition that a record does not meet, with what it has", async () => {
    const asked = why({
      name: "Quay extension",
      in: false,
      groups: [],
      out: [
        { words: "status is open", has: [{ field: "status", text: "won" }] },
        { words: "value is filled", has: [{ field: "value", text: "" }] },
      ],
    });
    await name("Quay");
    await userEvent.click(await screen.findByRole("option", { name: /Quay extension/ }));
    expect(await screen.findByText("is not in the result", { exact: false })).toBeTruthy();
    expect(screen.getByText("status is open")).toBeTruthy();
    expect(screen.getByText("Its status: won")).toBeTruthy();
    expect(screen.getByText("Its value: nothing")).toBeTruthy();
    expect(asked.find((a) => a.path === "/api/why")?.body).toMatchObject({ id: "12", brief });
  });

  it("says in which groups a record stands", async () => {
    why({ name: "Quay extension", in: true, groups: [["Enquiry", "Marina"]], out: [] });
    await name("Quay");
    await userEvent.click(await screen.findByRole("option", { name: /Quay extension/ }));
    expect(await screen.findByText("in Enquiry, Marina")).toBeTruthy();
  });

  it("says so where no record has the name", async () => {
    why({});
    await name("Boathouse");
    expect(await screen.findByText(/No record has this name or number, or you may not see it/)).toBeTruthy();
  });
});
