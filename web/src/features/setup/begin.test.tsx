import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, it } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { BeginPage } from "./BeginPage";

const company = {
  name: "",
  timezone: "UTC",
  weekStart: "monday",
  fiscalMonth: 1,
  currency: "",
  figures: "en",
  days: "words",
};
const refused = (detail: string, pointer?: string) =>
  new Refused(422, {
    title: "Refused",
    detail,
    status: 422,
    ...(pointer ? { errors: [{ pointer, message: detail }] } : {}),
  } as never);

let step = "organisation";
const answers = () => ({
  "POST /api/setup": () => ({
    step,
    company,
    figures: [{ tag: "en", example: "1,234.50" }],
    days: [{ tag: "words", example: "14 May 2026" }],
  }),
});

beforeEach(() => {
  step = "organisation";
  sessionStorage.clear();
  history.replaceState(null, "", "/begin#KEY");
});

it("takes the key out of the address, and goes on with it after a reload", async () => {
  const asked = serving(answers());
  const { unmount } = show(<BeginPage />);
  expect(await screen.findByRole("heading", { name: "Your organisation" })).toBeTruthy();
  expect(location.hash).toBe("");
  unmount();
  show(<BeginPage />);
  await screen.findByRole("heading", { name: "Your organisation" });
  expect(asked.filter((a) => a.path === "/api/setup").map((a) => a.body)).toEqual([{ key: "KEY" }, { key: "KEY" }]);
});

it("says beside the field what is refused, and loses nothing", async () => {
  serving({
    ...answers(),
    "POST /api/setup/organisation": () => {
      throw refused("“Mars” is no time zone.", "/timezone");
    },
  });
  show(<BeginPage />);
  await userEvent.type(await screen.findByRole("textbox", { name: "Name" }), "Ketch");
  await userEvent.click(screen.getByRole("button", { name: "Go on" }));
  const zone = screen.getByRole("combobox", { name: "Time zone" });
  await waitFor(() => expect(zone.getAttribute("aria-invalid")).toBe("true"));
  expect(screen.getByRole("alert").textContent).toContain("Mars");
  expect(screen.getByRole<HTMLInputElement>("textbox", { name: "Name" }).value).toBe("Ketch");
});

it("says where a step that is done can be gone back to", async () => {
  step = "administrator";
  serving(answers());
  show(<BeginPage />);
  await screen.findByRole("heading", { name: "The first administrator" });
  expect(screen.getByText("Your organisation", { exact: false }).textContent).toContain("done");
  await userEvent.click(screen.getByRole("button", { name: "Back" }));
  expect(await screen.findByRole("heading", { name: "Your organisation" })).toBeTruthy();
});
