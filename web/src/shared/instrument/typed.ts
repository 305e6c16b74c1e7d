import type { Schemas } from "../../api/client";

export type Input = Schemas["InstrumentInput"];

/** What stands in one input: its text, and the unit of a bare number. */
export interface Entry {
  text: string;
  unit: string;
}

const bare = /^[-+−]?[\d.,’'/\s±]+$/;

/** Takes a unit of the list off the end of a text, so that it stands in the unit's own place. */
export function entryOf(input: Input): Entry {
  const unit = [...input.units].sort((a, b) => b.length - a.length).find((u) => u !== "" && input.typed.endsWith(" " + u));
  if (!unit) return { text: input.typed, unit: input.unit };
  const text = input.typed.slice(0, -unit.length).trim();
  return input.kind === "number" && !bare.test(text) ? { text: input.typed, unit: input.unit } : { text, unit };
}

/** What is sent: a bare number or list gets the unit that stands beside it. */
export function textOf(input: Input, entry: Entry): string {
  const text = entry.text.trim();
  if (text === "" || input.kind === "choice" || input.kind === "count" || entry.unit === "") return text;
  return /[^\d\s.,’'/;×x*+−-]/.test(text.replace(/[eE][-+]?\d/g, "")) && !/^[^a-zA-Z°µ%]*±[^a-zA-Z°µ%]*$/.test(text)
    ? text
    : `${text} ${entry.unit}`;
}
