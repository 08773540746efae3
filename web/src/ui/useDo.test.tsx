import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render, screen, waitFor } from "@testing-library/react";
import { toast } from "sonner";
import { expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { useDo } from "./useDo";

function Doer({ send, done }: { send: (n: number) => Promise<string>; done: (said: string, n: number) => void }) {
  const [run, busy] = useDo(send, done);
  return (
    <>
      <button type="button" onClick={() => run(7)}>
        {busy ? "under way" : "do it"}
      </button>
      <button type="button" onClick={() => run(8)}>
        another
      </button>
    </>
  );
}

const shown = (send: (n: number) => Promise<string>) => {
  const done = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Doer send={send} done={done} />
    </QueryClientProvider>,
  );
  return done;
};

it("sends once however often it is pressed meanwhile, and again afterwards", async () => {
  let answer = (_: string) => {};
  const send = vi.fn(() => new Promise<string>((r) => (answer = r)));
  const done = shown(send);
  const button = screen.getByRole("button", { name: "do it" });
  act(() => {
    button.click();
    button.click();
  });
  await screen.findByText("under way");
  button.click();
  expect(send).toHaveBeenCalledTimes(1);
  answer("done");
  await screen.findByText("do it");
  expect(done.mock.calls).toEqual([["done", 7]]);
  button.click();
  await waitFor(() => expect(send).toHaveBeenCalledTimes(2));
});

it("does something else meanwhile, which is another thing", async () => {
  const send = vi.fn((n: number) => Promise.resolve(String(n)));
  const done = shown(send);
  act(() => {
    screen.getByRole("button", { name: "do it" }).click();
    screen.getByRole("button", { name: "another" }).click();
  });
  await waitFor(() => expect(done).toHaveBeenCalledTimes(2));
  expect(done.mock.calls.map(([said]) => said).sort()).toEqual(["7", "8"]);
});

it("tells what is refused, and can be tried again", async () => {
  const error = vi.spyOn(toast, "error");
  const send = vi
    .fn()
    .mockRejectedValue(new Refused(409, { title: "x", status: 409, detail: "Somebody was quicker." }));
  const done = shown(send);
  screen.getByRole("button", { name: "do it" }).click();
  await waitFor(() => expect(error).toHaveBeenCalledWith("Somebody was quicker."));
  await screen.findByText("do it");
  screen.getByRole("button", { name: "do it" }).click();
  await waitFor(() => expect(send).toHaveBeenCalledTimes(2));
  expect(done).not.toHaveBeenCalled();
});
