import { act, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import { serving, show } from "../../testing";
import { FoundRecords } from "./FoundRecords";
import { useFinder } from "./useFinder";

const named = (id: string, name: string) => ({ type: "customers", id, name });
const tern = named("4", "Tern Marina");
const ternbay = named("9", "Ternbay Yacht Club");

function Finds({ onPick, nothing }: { onPick: (id: string) => void; nothing?: boolean }) {
  const finder = useFinder({ types: ["customers", "deals"], nothing, onPick: (r) => onPick(r.id) });
  return (
    <>
      <input {...finder.field} aria-label="Which" />
      <FoundRecords finder={finder} label="Found" className="" />
    </>
  );
}

/** A finder whose answers come when they are let go. */
function finds(answers: Record<string, unknown[]>, nothing?: boolean) {
  const held = new Map<string, () => void>();
  const asked = serving({
    "GET /api/find-records": ({ query }: { query: URLSearchParams }) =>
      new Promise((resolve) => {
        const words = query.get("search") ?? "";
        held.set(words, () => resolve(answers[words] ?? []));
      }),
  });
  const onPick = vi.fn();
  show(<Finds onPick={onPick} nothing={nothing} />);
  const answer = async (words: string) => {
    await waitFor(() => expect(held.has(words)).toBe(true));
    await act(async () => held.get(words)?.());
  };
  return { onPick, asked, answer, field: screen.getByRole("combobox", { name: "Which" }) };
}

it("picks what is found for the words that stand there, not for those before", async () => {
  const { onPick, asked, answer, field } = finds({ t: [tern, ternbay], ternb: [ternbay] });
  await userEvent.type(field, "t");
  await answer("t");
  await screen.findByRole("option", { name: /Tern Marina/ });
  expect(asked[0].query.get("type")).toBe("customers,deals");
  await userEvent.type(field, "ernb{Enter}");
  expect(onPick, "the answer for these words is not there yet").not.toHaveBeenCalled();
  await answer("ternb");
  await waitFor(() => expect(onPick).toHaveBeenCalledExactlyOnceWith("9"));
});

it("takes Enter back by another letter, and says where nothing is found", async () => {
  const { onPick, answer, field } = finds({ te: [tern] });
  await userEvent.type(field, "te{Enter}x");
  await answer("te");
  await answer("tex");
  await screen.findByText(/No record has this name or number/);
  await userEvent.type(field, "{Enter}");
  expect(onPick).not.toHaveBeenCalled();
});

it("picks the one that the arrows went to, also while others are looked for", async () => {
  const { onPick, answer, field } = finds({ t: [tern, ternbay] });
  await userEvent.type(field, "t");
  await answer("t");
  await screen.findByRole("option", { name: /Ternbay/ });
  await userEvent.type(field, "e{ArrowDown}");
  expect(screen.getByRole("option", { selected: true }).textContent).toContain("Ternbay");
  expect(field.getAttribute("aria-activedescendant")).toBe(screen.getByRole("option", { selected: true }).id);
  await userEvent.type(field, "{Enter}");
  expect(onPick).toHaveBeenCalledExactlyOnceWith("9");
});

it("offers nothing where that can be picked, and never picks it for words", async () => {
  const { onPick, answer, field } = finds({ t: [tern] }, true);
  await userEvent.type(field, "q{Enter}");
  await answer("q");
  await screen.findByText(/No record has/);
  expect(onPick).not.toHaveBeenCalled();
  await userEvent.clear(field);
  await userEvent.type(field, "{ArrowDown}{Enter}");
  expect(onPick).toHaveBeenCalledExactlyOnceWith("");
});

it("says what went wrong, and forgets an Enter that waited", async () => {
  serving({
    "GET /api/find-records": () => {
      throw new Refused(429, { title: "Refused", detail: "Too much is asked at once.", status: 429 });
    },
  });
  const onPick = vi.fn();
  show(<Finds onPick={onPick} />);
  await userEvent.type(screen.getByRole("combobox", { name: "Which" }), "t{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("Too much");
  expect(onPick).not.toHaveBeenCalled();
});
