import { freeID, type Sheet } from "./sheet";

/** Where oil may come from and where it shows, as a sheet has it. */
export interface Zone {
  id: string;
  name: string;
  box: number[];
  hidden?: boolean;
}

export interface Source {
  id: string;
  name: string;
  zone?: string;
  when: string;
  oil?: string;
  seldom?: boolean;
}

export interface Leaks {
  oil: string;
  across?: boolean;
  zones: Zone[];
  sources: Source[];
  paths?: { from: string; to: string; share: number }[];
}

export const leaksOf = (s: Sheet): Leaks =>
  (s.leaks as Leaks | undefined) ?? { oil: s.control === "hand" ? "gear" : "fluid", zones: [], sources: [] };

/** When a source leaks, as a mechanic says it. */
export const whens: [string, string][] = [
  ["static", "a resting seal below the oil"],
  ["high", "a resting seal above the oil"],
  ["turning", "a lip on a shaft"],
  ["pressure", "a line or cover under pressure"],
  ["vent", "the vent"],
  ["inner", "inside: it shows nowhere"],
];

export const oils: [string, string][] = [
  ["", "the unit’s own"],
  ["fluid", "automatic fluid"],
  ["gear", "gear oil"],
  ["engine", "engine oil"],
  ["steering", "power steering"],
  ["brake", "brake fluid"],
  ["coolant", "coolant"],
];

/** A new place about a point of the unit, and how it is known. */
export function withZone(l: Leaks, [x, y, z]: number[], size: number[]): { leaks: Leaks; id: string } {
  const id = freeID(
    l.zones.map((o) => o.id),
    "place-",
  );
  const box = [x ?? 50, y ?? 50, z ?? 50].map((v, i) => Math.round(Math.min(110, Math.max(-18, v - (size[i] ?? 8) / 2))));
  return { leaks: { ...l, zones: [...l.zones, { id, name: "new place", box: [...box, ...size] }] }, id };
}

/** A map without a place: what leaked there, and the ways by it, go as well. */
export function withoutZone(l: Leaks, id: string): Leaks {
  return {
    ...l,
    zones: l.zones.filter((z) => z.id !== id),
    sources: l.sources.filter((s) => s.zone !== id),
    paths: (l.paths ?? []).filter((p) => p.from !== id && p.to !== id),
  };
}
