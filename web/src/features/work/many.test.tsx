import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import type { SchemaInfo } from "../../api/client";
import { noneChosen } from "../../table/work";
import { field, recordType, serving, show } from "../../testing";
import { ChosenBar } from "./ChosenBar";

const source = { ...field("source", "Source", "choice"), choices: ["Tender", "Fair"] };
const type = recordType("deals", "Deals", "deal", [field("name", "Name", "text"), source], { written: true });
const schema = { types: [type] } as unknown as SchemaInfo;
const brief = { version: 1, start: "deals" } as const;

function bar(chosen: Parameters<typeof ChosenBar>[0]["chosen"], more: object = {}) {
  const done = vi.fn();
  const onChoose = vi.fn();
  const asked = serving({
    "GET /api/me": { mayCompose: true },
    "POST /api/list": { total: 4 },
    "POST /api/records/deals/many": ({ body }: { body: unknown }) => ({
      records: 2,
      same: 1,
      left: 1,
      why: [{ id: 9, name: "Walkway", why: "Name: another deal has it." }],
      changed: (body as { dry?: boolean }).dry ? [] : [{ id: 3, field: "source", from: "", to: "Tender" }],
    }),
    ...more,
  });
  show(<ChosenBar schema={schema} type={type} brief={brief} chosen={chosen} onChoose={onChoose} done={done} />);
  return { done, onChoose, asked };
}

it("says before what would be changed and what cannot, changes it, and takes it back", async () => {
  const { done, onChoose, asked } = bar(
    { all: false, ids: new Set(["3", "4"]) },
    {
      "POST /api/records/deals/many/back": { left: 1 },
    },
  );
  expect(screen.getByText("2 chosen")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Change a field…" }));
  await userEvent.selectOptions(await screen.findByRole("combobox", { name: "Field" }), "source");
  const change = screen.getByRole<HTMLButtonElement>("button", { name: "Change them" });
  expect(change.disabled, "emptying is asked for by itself").toBe(true);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "All get" }), "Tender");
  await screen.findByText(/1 have it already/);
  expect(screen.getByText(/another deal has it/)).toBeTruthy();
  expect(asked.at(-1)?.body).toEqual({ ids: [3, 4], values: { source: "Tender" }, dry: true });
  await userEvent.click(change);
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(onChoose, "what may have left the list is not chosen").toHaveBeenLastCalledWith(noneChosen);
  expect(await done.mock.lastCall?.[0].back()).toContain("1 were changed by others since");
});

it("names all but some by the list", async () => {
  const { asked } = bar({ all: true, ids: new Set(["4"]) });
  expect(await screen.findByText("3 chosen")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Change a field…" }));
  await userEvent.selectOptions(await screen.findByRole("combobox", { name: "Field" }), "source");
  await userEvent.click(screen.getByRole("checkbox", { name: "Empty it" }));
  await screen.findByText(/would change/);
  expect(asked.at(-1)?.body).toEqual({ brief, but: [4], values: { source: "" }, dry: true });
});

it("deletes all of a list once it is asked, says how far it is, and brings them back at once", async () => {
  let deleted = () => {};
  const { done, onChoose, asked } = bar(
    { all: true, ids: new Set(["4"]) },
    {
      "POST /api/list": { total: 5001 },
      "DELETE /api/records/deals": () => new Promise((r) => (deleted = () => r({ ids: [1, 2, 3] }))),
      "POST /api/deleted-records/deals/back": null,
    },
  );
  await screen.findByText("5,000 chosen");
  await userEvent.click(screen.getByRole("button", { name: "Delete" }));
  expect(
    asked.some((a) => a.method === "DELETE"),
    "it asks first",
  ).toBe(false);
  await userEvent.click(screen.getByRole("button", { name: "Delete them" }));
  await waitFor(() => expect(asked.some((a) => a.path.startsWith("/api/work/"))).toBe(true));
  expect(asked.find((a) => a.method === "DELETE")?.body).toEqual({ brief, but: [4] });
  deleted();
  await waitFor(() => expect(done).toHaveBeenCalled());
  expect(onChoose).toHaveBeenCalledWith(noneChosen);
  expect(done.mock.calls[0][0].words).toBe("3 deals deleted");
  await done.mock.calls[0][0].back();
  expect(asked.at(-1)?.body).toEqual({ ids: [1, 2, 3] });
});
