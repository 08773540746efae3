import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { TargetGrid } from "./TargetGrid";

/** A server that keeps what is put to it; what it gives for a cell is what was put there. */
const server = vi.hoisted(() => ({ put: [] as Record<string, unknown>[], year: "€12", refuse: "" }));
vi.mock("../../api/client", async (original) => {
  const real = await original<typeof import("../../api/client")>();
  const row = (kind: string, id: string, name: string, depth: number, year: string, below = "") => ({
    kind,
    id,
    name,
    depth,
    months: Array(12).fill("€1"),
    quarters: Array(4).fill("€3"),
    year,
    below,
  });
  const fine = (data: unknown) => Promise.resolve({ data, response: new Response(null, { status: 200 }) });
  return {
    ...real,
    api: {
      GET: (_: string, o: { params: { query: { year: number } } }) => {
        const first = o.params.query.year || 2026;
        const months = Array.from({ length: 12 }, (_, i) => `M${i + 1} ${first + (i > 8 ? 1 : 0)}`);
        return fine({
          year: first,
          quarter: 1,
          months,
          rows: [row("", "", "everyone", 0, "", "€24"), row("team", "2", "West shore", 1, server.year)],
        });
      },
      PUT: (_: string, o: { body: Record<string, unknown> }) => {
        if (server.refuse)
          return Promise.resolve({
            error: { status: 422, detail: server.refuse },
            response: new Response(null, { status: 422 }),
          });
        server.put.push(o.body);
        return fine({ before: ["1.00", "1.00", "1.00"], note: "" });
      },
    },
  };
});

const cell = (name: string) => screen.findByRole("textbox", { name }) as Promise<HTMLInputElement>;
const type = (input: HTMLInputElement, text: string) => {
  act(() => input.focus());
  fireEvent.change(input, { target: { value: text } });
};

describe("the grid of targets", () => {
  beforeEach(() => {
    server.put.length = 0;
    server.refuse = "";
    render(
      <QueryClientProvider client={new QueryClient()}>
        <TargetGrid measure="won" />
      </QueryClientProvider>,
    );
  });

  it("shows the quarter of today by its months, and opens and closes others", async () => {
    await cell("West shore, M5 2026");
    expect(screen.queryByRole("textbox", { name: "West shore, M1 2026" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "M1 – M3 2026" }));
    await cell("West shore, M1 2026");
    fireEvent.click(screen.getByRole("button", { name: "M4 – M6 2026" }));
    expect(screen.queryByRole("textbox", { name: "West shore, M5 2026" })).toBeNull();
  });

  it("sets what is typed for the months that the cell stands for, cut as chosen, and takes it back", async () => {
    const quarter = await cell("West shore, M4 – M6 2026");
    fireEvent.click(screen.getByRole("radio", { name: "as the year before came in" }));
    type(quarter, "90k");
    fireEvent.keyDown(quarter, { key: "Enter" });
    await waitFor(() => expect(server.put).toHaveLength(1));
    expect(server.put[0]).toMatchObject({
      kind: "team",
      id: "2",
      year: 2026,
      from: 3,
      months: 3,
      amount: "90k",
      cut: "last_year",
    });
    await waitFor(() => expect(screen.getByRole("button", { name: "Undo" })).toHaveProperty("disabled", false));
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(server.put).toHaveLength(2));
    expect(server.put[1]).toMatchObject({ from: 3, months: 3, amounts: ["1.00", "1.00", "1.00"] });
    await waitFor(() => expect(screen.getByRole("button", { name: "Undo" })).toHaveProperty("disabled", true));
  });

  it("sets nothing where nothing was changed, and leaves with Escape what was typed", async () => {
    const year = await cell("West shore, Year");
    type(year, "€12");
    fireEvent.blur(year);
    type(year, "5");
    fireEvent.keyDown(year, { key: "Escape" });
    fireEvent.blur(year);
    expect(year.value).toBe("€12");
    expect(server.put).toHaveLength(0);
  });

  it("keeps what was typed and says what is wrong with it", async () => {
    server.refuse = "“a lot” is no amount";
    const year = await cell("West shore, Year");
    type(year, "a lot");
    fireEvent.blur(year);
    expect((await screen.findByRole("alert")).textContent).toBe("“a lot” is no amount");
    expect(year.value).toBe("a lot");
  });

  it("goes from amount to amount by keys, and says what those within come to", async () => {
    const all = await cell("Everyone, Year");
    expect(all.placeholder).toBe("€24");
    act(() => all.focus());
    fireEvent.keyDown(all, { key: "ArrowDown" });
    expect(document.activeElement).toBe(await cell("West shore, Year"));
    fireEvent.keyDown(document.activeElement as Element, { key: "ArrowUp" });
    expect(document.activeElement).toBe(all);
  });
});
