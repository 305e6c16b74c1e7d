import type { Schemas } from "./client";

/** What is new in a case after a change: the parts that it touched. */
export type News = Schemas["CaseNews"];

type Papers = Pick<Schemas["Case"], "decisions" | "estimates" | "proof" | "records" | "photos">;

/** A case as the page holds it: all parts side by side. */
export type Case = Schemas["CaseHead"] & Schemas["Ranking"] & Papers;

/** A case as it was loaded. */
export function wholeCase({ head, ranking, ...rest }: Schemas["Case"]): Case {
  return { ...head, ...ranking, ...rest };
}

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

/**
 * What is known of a case with what is new in it. Undefined when the news is of a revision that is not known here, since somebody
 * else has changed the case in between: then it is to be loaded again.
 */
export function withNews(old: Case | undefined, { before, head, ranking, ...rest }: News): Case | undefined {
  if (before !== 0 && old && old.rev >= rest.rev) return old;
  if (before !== 0 && old?.rev !== before) return undefined;
  return newer(old, { ...old, ...head, ...ranking, ...rest } as Case);
}

/** What is known of a case with its exact ranking, if that is of the same readings. */
export function withRanking(now: Case | undefined, exact: Schemas["Ranking"]): Case | undefined {
  return now?.rev === exact.rev && now.trail.length === exact.trail.length ? { ...now, ...exact } : now;
}
