import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import type { SchemaInfo } from "../../api/client";
import { field, recordType, show } from "../../testing";
import { Switches, switchedTo } from "./Switches";

const schema = {
  types: [
    recordType("deals", "Deals", "deal", [
      field("name", "Name", "text"),
      field("kind", "Kind", "choice"),
      { ...field("berth", "Berth", "choice"), retired: true },
      field("owner", "Owner", "link", [], "people"),
      field("changed_by", "Changed by", "link", [], "people"),
    ]),
  ],
} as unknown as SchemaInfo;
const names = (of: string) =>
  [...screen.getByRole("combobox", { name: of }).querySelectorAll("option")].map((o) => o.textContent);
const summaries = [
  { key: "n", label: "Count" },
  { key: "v", label: "Sum of value" },
];
const at = { schema, title: "Deals won", summaries, value: {} };

it("groups by choices and links that people set, and by what the report groups by", async () => {
  const change = vi.fn();
  const brief = { version: 1 as const, start: "deals", groups: [{ field: "customer.kind" }] };
  show(<Switches {...at} brief={brief} onChange={change} />);
  expect(names("Deals won: what it groups by")).toEqual(["as the report", "Kind", "Owner"]);
  expect(screen.queryByRole("button", { name: "as it is kept" })).toBeNull();
  await userEvent.selectOptions(screen.getByRole("combobox", { name: /what it groups by/ }), "Owner");
  expect(change).toHaveBeenLastCalledWith({ group: "owner" });
});

it("sums up one of several, keeps what else was switched, and goes back to what is kept", async () => {
  const change = vi.fn();
  const brief = { version: 1 as const, start: "deals", groups: [{ field: "kind" }] };
  const { rerender } = show(<Switches {...at} brief={brief} value={{ group: "kind" }} onChange={change} />);
  await userEvent.selectOptions(screen.getByRole("combobox", { name: /what it sums up/ }), "Sum of value");
  expect(change).toHaveBeenLastCalledWith({ group: "kind", value: "v" });
  await userEvent.click(screen.getByRole("button", { name: "as it is kept" }));
  expect(change).toHaveBeenLastCalledWith({});
  rerender(<Switches {...at} brief={brief} summaries={summaries.slice(1)} onChange={change} />);
  expect(screen.queryByRole("combobox", { name: /what it sums up/ })).toBeNull();
});

it("switches a panel, and leaves its other options", () => {
  const kept = { kind: "columns", looks: { legend: "top" }, top: true } as Parameters<typeof switchedTo>[0];
  expect(switchedTo(kept, undefined)).toBe(kept);
  expect(switchedTo(kept, { value: "v", group: "kind" })).toEqual({
    kind: "columns",
    group: "kind",
    top: true,
    looks: { legend: "top", values: ["v"] },
  });
  expect(switchedTo(kept, { kind: "lines" })).toEqual({ ...kept, kind: "lines" });
});
