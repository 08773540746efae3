import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";
import { seenAs } from "./seeAs";

export type Schemas = components["schemas"];
export type Brief = Schemas["Brief"];
export type Tree = Schemas["Tree"];
export type Group = Schemas["Group"];
export type Summary = Schemas["Summary"];
export type Clause = Schemas["Clause"];
export type Answer = Schemas["AnswerBody"];
export type ListPage = Schemas["ListBody"];
export type TypeInfo = Schemas["TypeInfo"];
export type FieldInfo = Schemas["FieldInfo"];
export type SchemaInfo = Schemas["SchemaBody"];
export type Report = Schemas["ReportBody"];
export type Board = Schemas["BoardBody"];
export type Panel = Schemas["PanelBody"];
export type Drawing = Schemas["Drawing"];
export type Mark = Schemas["Mark"];
export type Me = Schemas["Me"];

/** An error as the server tells it, with a pointer to each member at fault. */
export class Refused extends Error {
  constructor(
    public status: number,
    public problem: Schemas["ErrorBody"],
  ) {
    super(problem.detail || problem.title);
  }
}

export const api = createClient<paths>({
  baseUrl: location.origin,
  querySerializer: { array: { style: "form", explode: false } },
});

api.use({
  onRequest: ({ request }) => {
    const person = seenAs();
    if (person) request.headers.set("See-As", person);
    return request;
  },
});

/** Unwraps a response, or throws what the server refused it for. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got: { data?: T; error?: unknown; response: Response };
  try {
    got = await call;
  } catch (e) {
    if (e instanceof DOMException) throw e;
    throw new Refused(0, {
      title: "No answer",
      status: 0,
      detail: "The server cannot be reached. Nothing here is lost; try again in a moment.",
    });
  }
  if (got.response.ok) return got.data as T;
  const p = (got.error ?? {}) as Schemas["ErrorBody"];
  throw new Refused(got.response.status, {
    ...p,
    title: p.title ?? "Refused",
    status: got.response.status,
    detail: p.detail ?? "",
  });
}

/** Asks for what the contract's client cannot send or take: files, and requests that answer nothing. Throws what the server refused it for. */
export async function fetched(path: string, body?: BodyInit, type = "application/json"): Promise<Response> {
  const person = seenAs();
  const headers = { ...(body ? { "Content-Type": type } : {}), ...(person ? { "See-As": person } : {}) };
  const response = await fetch(path, { method: body ? "POST" : "GET", headers, body });
  if (!response.ok) throw new Refused(response.status, await response.json());
  return response;
}
