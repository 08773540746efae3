import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { serving, show } from "../../testing";
import { WordsSettings } from "./WordsSettings";

const lead = {
  name: "leads",
  brief: { version: 1, start: "customers", filter: { field: "kind", is: "any_of", values: ["Prospect"] } },
  text: "Customers of everyone, where kind is Prospect.",
};
const read = (brief: unknown) => ({ brief, text: "", unread: [], problems: [] });

describe("an organisation's own words", () => {
  it("are told with what they mean, added by a typed sentence and removed", async () => {
    const asked = serving({
      "GET /api/settings/words": { words: [lead], version: 4 },
      "PUT /api/settings/words": null,
      "GET /api/typed/next": [],
      "POST /api/typed": ({ body }: { body: unknown }) =>
        read(
          (body as { text: string }).text.includes("where")
            ? {
                version: 1,
                start: "deals",
                filter: { field: "value", is: "over", values: ["200000"] },
                groups: [{ field: "stage" }],
              }
            : { version: 1, start: "deals" },
        ),
    });
    show(<WordsSettings />);
    expect(await screen.findByText(lead.text)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Another word" }));
    const sentence = screen.getByRole("combobox");
    await userEvent.type(sentence, "deals{Enter}");
    expect((await screen.findByRole("alert")).textContent).toBe("Say first what the word is.");
    await userEvent.type(screen.getByLabelText("The word, in the plural"), "whales");
    await userEvent.type(sentence, "{Enter}");
    expect((await screen.findByRole("alert")).textContent).toContain("which of the records");
    await userEvent.type(sentence, " where value over 200k{Enter}");
    await waitFor(() => expect(asked.some((a) => a.method === "PUT")).toBe(true));
    expect(asked.find((a) => a.method === "PUT")?.body).toEqual({
      words: [
        lead,
        {
          name: "whales",
          brief: { version: 1, start: "deals", filter: { field: "value", is: "over", values: ["200000"] } },
        },
      ],
      version: 4,
    });
    await userEvent.click(screen.getByRole("button", { name: "Remove leads" }));
    await waitFor(() => expect(asked.filter((a) => a.method === "PUT")).toHaveLength(2));
    expect(asked.filter((a) => a.method === "PUT")[1].body).toEqual({ words: [], version: 4 });
  });
});
