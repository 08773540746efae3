import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { TypedSentence } from "./TypedSentence";

const answers = vi.hoisted(() => ({ asked: [] as string[] }));
vi.mock("../api/client", async (original) => {
  const fine = (data: unknown) => Promise.resolve({ data, response: new Response(null, { status: 200 }) });
  return {
    ...(await original<typeof import("../api/client")>()),
    api: {
      GET: () => fine(["deals by stage"]),
      POST: (_: string, o: { body: { text: string } }) => {
        answers.asked.push(o.body.text);
        const brief = o.body.text.startsWith("deals") ? { version: 1, start: "deals" } : undefined;
        const odd = o.body.text.includes("stagge") ? [{ from: 9, to: 15, text: "stagge", near: ["stage"] }] : [];
        if (odd.length) return fine({ brief, unread: odd, problems: [], text: "Deals." });
        return fine({
          brief,
          unread: brief ? [] : [{ from: 0, to: 5, text: o.body.text, near: ["deals"] }],
          problems: [],
          text: "Deals.",
        });
      },
    },
  };
});

describe("a typed sentence", () => {
  const read = vi.fn();
  beforeEach(() => {
    read.mockClear();
    answers.asked.length = 0;
    render(
      <QueryClientProvider client={new QueryClient()}>
        <TypedSentence onRead={read} />
      </QueryClientProvider>,
    );
  });
  const type = (text: string) => fireEvent.change(screen.getByRole("combobox"), { target: { value: text } });
  const enter = () => fireEvent.submit(screen.getByRole("combobox").closest("form") as HTMLFormElement);

  it("is composed once it is read, however soon Enter came after the last key", async () => {
    type("deals");
    enter();
    expect(read).not.toHaveBeenCalled();
    await waitFor(() => expect(read).toHaveBeenCalledOnce());
    expect(read).toHaveBeenCalledWith({ version: 1, start: "deals" });
  });

  it("forgets the Enter when one types on", async () => {
    type("deals");
    enter();
    type("deals where");
    await waitFor(() => expect(answers.asked).toContain("deals where"));
    await screen.findByText(/Understood/);
    expect(read).not.toHaveBeenCalled();
  });

  it("says once what it would leave out, and composes it when asked again", async () => {
    type("deals by stagge");
    enter();
    expect((await screen.findByRole("alert")).textContent).toContain("without “stagge”");
    expect(read).not.toHaveBeenCalled();
    enter();
    await waitFor(() => expect(read).toHaveBeenCalledOnce());
  });

  it("points at what is not understood, and composes nothing of it", async () => {
    type("deels");
    enter();
    await screen.findByText(/“deels” is not understood/);
    expect(read).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "deals" }));
    expect((screen.getByRole("combobox") as HTMLInputElement).value).toBe("deals");
  });
});
