import type { Case } from "../../api/client";

/** Until new weights are there, readings keep those that they had; a new one has none. */
function keepWeights(old: Case | undefined, now: Case): Case {
  if (now.weighed) return now;
  const had = new Map(old?.trail.map((t) => [t.id, t]));
  return {
    ...now,
    trail: now.trail.map((t) => {
      const before = had.get(t.id);
      return before ? { ...t, weight: before.weight, hangsOn: before.hangsOn } : { ...t, weight: NaN };
    }),
  };
}

/** A case as it is known here; an answer that is older than what is shown already is passed over. */
export function newer(old: Case | undefined, now: Case): Case {
  return old && old.rev > now.rev ? old : keepWeights(old, now);
}
