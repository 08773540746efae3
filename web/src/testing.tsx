import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { Middleware } from "openapi-fetch";
import { useState } from "react";
import { MemoryRouter } from "react-router";
import { api, type FieldInfo, Refused, type TypeInfo } from "./api/client";

type Asked = { method: string; path: string; query: URLSearchParams; body: unknown };
type Answers = Record<string, unknown | ((asked: Asked) => unknown)>;

let serves: Middleware | undefined;

/** A server for a test: answers by method and path, "GET /api/me"; what is not among them is refused, as is what throws Refused. Returns what it was asked. */
export function serving(answers: Answers): Asked[] {
  const asked: Asked[] = [];
  if (serves) api.eject(serves);
  serves = {
    onRequest: async ({ request }) => {
      const { pathname, searchParams } = new URL(request.url);
      const text = await request.text();
      const one = {
        method: request.method,
        path: pathname,
        query: searchParams,
        body: text ? JSON.parse(text) : undefined,
      };
      asked.push(one);
      const key = `${one.method} ${one.path}`;
      const json = (body: unknown, status: number) =>
        new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
      if (!(key in answers))
        return json({ title: "Refused", detail: `The test has no answer to ${key}.`, status: 404 }, 404);
      const answer = answers[key];
      try {
        return json(typeof answer === "function" ? await answer(one) : answer, 200);
      } catch (e) {
        if (e instanceof Refused) return json(e.problem, e.status);
        throw e;
      }
    },
  };
  api.use(serves);
  return asked;
}

/** A field of a record type. */
export const field = (key: string, label: string, kind: string, operators: string[] = [], to?: string) =>
  ({ key, label, kind, operators, to, written: kind !== "id" }) as FieldInfo;

/** A record type with an owner, whose records have a name. */
export const recordType = (
  key: string,
  label: string,
  one: string,
  fields: FieldInfo[],
  more: Partial<TypeInfo> = {},
) => ({ key, label, one, name: "name", owner: "owner", backs: [], shown: [], fields, ...more }) as TypeInfo;

/** What is edited, held as its page holds it; each change is handed on, too. */
export function Held<T>({
  first,
  onChange,
  children,
}: {
  first: T;
  onChange: (value: T) => void;
  children: (value: T, change: (next: T) => void) => React.ReactNode;
}) {
  const [value, setValue] = useState(first);
  return children(value, (next) => {
    setValue(next);
    onChange(next);
  });
}

/** Renders something as the application does: with its questions to the server, and with places to go to; at is where one is. */
export function show(what: React.ReactElement, at = "/") {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const all = (inner: React.ReactElement) => (
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>{inner}</MemoryRouter>
    </QueryClientProvider>
  );
  const { rerender, ...rest } = render(all(what));
  return { ...rest, client, rerender: (inner: React.ReactElement) => rerender(all(inner)) };
}
