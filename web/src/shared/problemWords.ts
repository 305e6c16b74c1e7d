import { ProblemError } from "../api/client";

/** A problem in words: what was wrong, why, and what would be accepted. */
export function problemWords(error: unknown) {
  if (error instanceof ProblemError) {
    const { title, detail, field, accepted } = error.problem;
    return { title: field ? `${title}: ${field}` : title, detail, accepted };
  }
  return {
    title: "The server does not answer",
    detail: "What you typed is kept here.",
    accepted: "start it again, or wait: the page tries by itself",
  };
}
