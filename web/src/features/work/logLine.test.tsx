import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { LogLine } from "./LogLine";

const answers = {
  "POST /api/log": ({ body }: { body: unknown }) => {
    const { text, dry } = body as { text: string; dry?: boolean };
    const known = text.startsWith("call");
    return {
      things: [
        {
          said: known ? "Call, done today 10:00" : "",
          lacks: known ? "" : "Begin with what it is: call.",
          planned: false,
        },
      ],
      ids: dry ? [] : [91, 92],
    };
  },
};

it("says how it understands what is typed, keeps it of all records, and takes that back", async () => {
  const asked = serving({ ...answers, "DELETE /api/records/activities": {} });
  const done = vi.fn();
  show(
    <LogLine
      about={[
        { type: "deals", id: 1 },
        { type: "deals", id: 2 },
      ]}
      diary="activities"
      done={done}
    />,
  );
  const line = screen.getByRole<HTMLInputElement>("textbox", { name: "What was done, or is planned" });
  await userEvent.type(line, "the piles");
  await screen.findByText(/Begin with what it is/);
  fireEvent.submit(line);
  expect(
    asked.every((a) => (a.body as { dry?: boolean }).dry),
    "nothing is kept of what is not understood",
  ).toBe(true);
  await userEvent.clear(line);
  await userEvent.type(line, "call");
  await screen.findByText("Call, done today 10:00");
  await userEvent.type(line, "{Enter}");
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(asked.at(-1)?.body).toEqual({
    about: [
      { type: "deals", id: 1 },
      { type: "deals", id: 2 },
    ],
    text: "call",
  });
  expect(line.value).toBe("");
  const step = done.mock.lastCall?.[0];
  expect(step.words).toBe("Call, done today 10:00, of 2");
  await step.back();
  expect(asked.at(-1)).toMatchObject({ method: "DELETE", body: { ids: [91, 92] } });
});

it("is emptied by Escape, and then lets Escape go on", async () => {
  serving(answers);
  const outer = vi.fn();
  show(
    // biome-ignore lint/a11y/noStaticElementInteractions: what hears the keys that go on
    <div onKeyDown={outer}>
      <LogLine about={[{ type: "deals", id: 1 }]} diary="activities" done={vi.fn()} />
    </div>,
  );
  const line = screen.getByRole<HTMLInputElement>("textbox");
  await userEvent.type(line, "ca");
  outer.mockClear();
  await userEvent.keyboard("{Escape}");
  expect(line.value).toBe("");
  expect(outer).not.toHaveBeenCalled();
  await userEvent.keyboard("{Escape}");
  expect(outer).toHaveBeenCalledOnce();
});

it("keeps a line whose last letters came with Enter, once it is understood; what is refused is said", async () => {
  const asked = serving({
    "POST /api/log": ({ body }: { body: unknown }) => {
      const { text } = body as { text: string };
      if (text === "visit") throw new Refused(422, { title: "Refused", detail: "Not linked to people.", status: 422 });
      return answers["POST /api/log"]({ body });
    },
  });
  const done = vi.fn();
  show(<LogLine about={[{ type: "deals", id: 1 }]} diary="activities" done={done} />);
  const line = screen.getByRole<HTMLInputElement>("textbox");
  await userEvent.type(line, "ca");
  await screen.findByText(/Begin with what it is/);
  await userEvent.type(line, "ll{Enter}");
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(asked.at(-1)?.body).toEqual({ about: [{ type: "deals", id: 1 }], text: "call" });
  await userEvent.type(line, "visit");
  expect((await screen.findByRole("alert")).textContent).toContain("Not linked to people.");
});
