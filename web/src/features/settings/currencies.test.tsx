import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { CurrencySettings } from "./CurrencySettings";

const body = {
  own: "EUR",
  hold: 35,
  version: 4,
  others: [
    { code: "NOK", records: 12, rates: 3, latest: "11.62 NOK = 1 EUR", day: "14 May 2026" },
    { code: "SEK", records: 0, rates: 1, latest: "11 SEK = 1 EUR", day: "1 Jan 2026", stale: true },
    { code: "CHF", records: 0, rates: 0 },
  ],
};

it("says what each currency is worth, adds one, and keeps what was typed when it is refused", async () => {
  const asked = serving({
    "GET /api/me": { today: "2026-05-14" },
    "GET /api/currencies": body,
    "PUT /api/currencies": ({ body }: { body: unknown }) => {
      if ((body as { others: string[] }).others.includes("XXY"))
        throw new Refused(422, { title: "", detail: "“XXY” is no currency.", status: 422 } as never);
      return null;
    },
  });
  show(<CurrencySettings />);
  expect(await screen.findByText(/11.62 NOK = 1 EUR, since 14 May 2026 · 12 records/)).toBeTruthy();
  expect(screen.getByText(/which holds no longer/)).toBeTruthy();
  expect(screen.getByText(/no rate yet/)).toBeTruthy();
  const code = screen.getByLabelText("Another currency") as HTMLInputElement;
  await userEvent.type(code, "xxy{Enter}");
  await waitFor(() => expect(asked.filter((a) => a.method === "PUT")).toHaveLength(1));
  expect(code.value).toBe("xxy");
  await userEvent.clear(code);
  await userEvent.type(code, "gbp{Enter}");
  await waitFor(() => expect(code.value).toBe(""));
  expect(asked.findLast((a) => a.method === "PUT")?.body).toEqual({
    others: ["NOK", "SEK", "CHF", "GBP"],
    hold: 35,
    version: 4,
  });
});

it("enters a rate of a currency from today on", async () => {
  const asked = serving({
    "GET /api/currencies": body,
    "GET /api/me": { today: "2026-05-14" },
    "POST /api/records/exchange_rates": [7],
  });
  show(<CurrencySettings />);
  await userEvent.click(await screen.findByRole("button", { name: "Enter a rate of CHF" }));
  await userEvent.type(await screen.findByLabelText("So many CHF"), "0.93");
  await userEvent.click(screen.getByRole("button", { name: "Keep the rate" }));
  await waitFor(() => expect(asked.some((a) => a.method === "POST")).toBe(true));
  expect(asked.find((a) => a.method === "POST")?.body).toEqual({
    records: [{ currency: "CHF", day: "2026-05-14", units: "0.93", worth: "1" }],
  });
});
