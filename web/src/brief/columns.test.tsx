import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { Brief, SchemaInfo } from "../api/client";
import { field, Held, recordType, serving, show } from "../testing";
import { ColumnsEditor } from "./ColumnsEditor";

const fields = ["name", "stage", "value", "source", "closed"];
const schema = {
  types: [
    recordType(
      "deals",
      "Deals",
      "deal",
      fields.map((f) => field(f, f[0].toUpperCase() + f.slice(1), "text")),
    ),
  ],
} as unknown as SchemaInfo;

function editor() {
  serving({});
  const change = vi.fn();
  show(
    <Held first={{ version: 1, start: "deals", columns: fields.map((f) => ({ field: f })) } as Brief} onChange={change}>
      {(brief, next) => <ColumnsEditor schema={schema} brief={brief} onChange={next} />}
    </Held>,
  );
  return () => (change.mock.lastCall?.[0] as Brief | undefined)?.columns?.map((c) => c.field);
}
const tick = (name: string) => userEvent.click(screen.getByRole("checkbox", { name: `Choose ${name}` }));

describe("many columns", () => {
  it("are removed at once, those between two ticks as well", async () => {
    const shown = editor();
    await tick("Stage");
    const user = userEvent.setup();
    await user.keyboard("{Shift>}");
    await user.click(screen.getByRole("checkbox", { name: "Choose Source" }));
    await user.keyboard("{/Shift}");
    expect(screen.getByText("3 chosen")).toBeTruthy();
    await tick("Value");
    expect(screen.getByText("2 chosen")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Remove them" }));
    expect(shown()).toEqual(["name", "value", "closed"]);
    expect(screen.queryByText(/chosen/)).toBeNull();
  });

  it("are never removed all", async () => {
    editor();
    for (const f of ["Name", "Stage", "Value", "Source", "Closed"]) await tick(f);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Remove them" }).disabled).toBe(true);
  });
});
