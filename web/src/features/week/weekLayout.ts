import type { Schemas } from "../../api/client";

export type WeekJob = Schemas["WeekJob"];
export type WeekDay = Schemas["WeekDay"];

/** Where a moment lies on the axis of open days: whole days are columns, what is closed has no width. */
export function place(days: WeekDay[], iso: string): number {
  const at = Date.parse(iso);
  for (const [i, d] of days.entries()) {
    const [from, to] = [Date.parse(d.from), Date.parse(d.to)];
    if (at <= from) return i;
    if (at <= to) return i + (at - from) / (to - from);
  }
  return days.length;
}

const quarter = 15 * 60_000;

/** The moment at a place on the axis, to a quarter of an hour. */
export function momentAt(days: WeekDay[], at: number): string {
  const i = Math.min(days.length - 1, Math.max(0, Math.floor(at)));
  const d = days[i]!;
  const [from, to] = [Date.parse(d.from), Date.parse(d.to)];
  const exact = from + Math.min(1, Math.max(0, at - i)) * (to - from);
  return new Date(Math.round(exact / quarter) * quarter).toISOString();
}

/** Up to two letters that a person goes by in a narrow place. */
export const letters = (name: string) =>
  name
    .split(/\s+/)
    .map((w) => w.charAt(0))
    .join("")
    .slice(0, 2);

/** Who works on a job, each once. */
export const peopleOf = (job: WeekJob) => [...new Set(job.slot.phases.flatMap((p) => p.by))];
