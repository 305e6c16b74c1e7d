import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type { Case } from "./caseParts";
export type Settings = Schemas["Settings"];

/** What the server says is wrong: field and what would be accepted, from its problem document. */
export class ProblemError extends Error {
  constructor(readonly problem: Schemas["Problem"]) {
    super(problem.detail ?? problem.title);
  }
}

export const api = createClient<paths>({ baseUrl: "/api" });

/** Unwraps an answer or throws its problem; a network failure throws as it is. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (data !== undefined || response.status === 204) return data as T;
  const p = (error ?? {}) as Partial<Schemas["Problem"]>;
  throw new ProblemError({
    type: p.type ?? "urn:inner-compass:problem:failed",
    title: p.title ?? "The server did not answer as expected",
    status: p.status ?? response.status,
    detail: p.detail,
    field: p.field,
    accepted: p.accepted,
  });
}

/** True for failures that may pass by themselves: the server is away, not refusing. */
export function isAway(error: unknown): boolean {
  return !(error instanceof ProblemError) || error.problem.status === 502 || error.problem.status === 503;
}
