import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import type { Panel } from "../../api/client";
import { serving, show } from "../../testing";
import { PanelDialog } from "./PanelDialog";

const brief = { version: 1, start: "deals", groups: [{ field: "stage" }], chart: { kind: "column" } };
const panel = { report: 7, x: 0, y: 0, w: 6, h: 9, options: { heading: "Pipeline" } } as Panel;

async function open(options = panel.options) {
  serving({
    "GET /api/reports/7": { id: 7, title: "Open deals", brief },
    "POST /api/answer": { kinds: [], groups: [{}], summaries: [], columns: [], lines: [] },
    "GET /api/styles": [],
    "GET /api/schema": { types: [], periods: [] },
  });
  const change = vi.fn();
  show(<PanelDialog panel={{ ...panel, options } as Panel} onChange={change} onClose={() => {}} />);
  await waitFor(() => expect(screen.getByRole("option", { name: "how it stood" })).toBeTruthy());
  return change;
}
const done = () => userEvent.click(screen.getByRole("button", { name: "Done" }));

it("tells how its report stood, by a unit, as lines where one wants them; and nothing of that once it is drawn otherwise", async () => {
  let change = await open();
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "Drawn as" }), "how it stood");
  await waitFor(() => expect(screen.getByRole("radio", { name: "Lines" })).toBeTruthy());
  await userEvent.click(screen.getByRole("radio", { name: "Days" }));
  await userEvent.click(screen.getByRole("radio", { name: "Lines" }));
  await done();
  expect(change.mock.lastCall?.[0].options).toEqual({ heading: "Pipeline", stood: "day", kind: "line" });
  cleanup();

  change = await open({ heading: "Pipeline", stood: "day", kind: "line" });
  expect(screen.getByRole("combobox", { name: "Drawn as" })).toHaveProperty("value", "stood");
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "Drawn as" }), "what moved in it");
  await done();
  expect(change.mock.lastCall?.[0].options).toEqual({ heading: "Pipeline", moved: "last_week" });
});
