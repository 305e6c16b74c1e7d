import type { Schemas } from "../api/client";

type Phrase = Schemas["SaidPhrase"];

/** What a phrase does in the sentence, where its title does not say so. */
const roleWords: Partial<Record<Phrase["role"], string>> = {
  denied: "not there",
  gone: "goes away",
  hearsay: "said by others",
  guess: "customer’s guess",
  wish: "asked for",
};

/** What a phrase means, in a line: the symptom with its range and condition. */
export function meaning(p: Phrase): string {
  const said = [p.title, ...p.details].filter(Boolean).join(" · ");
  const role = roleWords[p.role];
  if (!role) return said;
  return p.role === "denied" || p.role === "gone" ? `${said} · ${role}` : role;
}
