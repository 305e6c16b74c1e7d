import type { Schemas } from "../../api/client";
import { capital } from "../../shared/format";

/** The parts of a unit sheet that the builder works on; what else it says travels along untouched. */
export interface SheetElement {
  id: string;
  name: string;
  kind: string;
  a?: string;
  b?: string;
  beside?: string;
  series?: string;
  group?: string;
  hand?: boolean;
  [more: string]: unknown;
}

export interface SheetRange {
  id: string;
  selector: string;
  name: string;
  applied: string[] | null;
  holding?: string[] | null;
  outcome: string;
  from?: string;
  ratio?: string;
  [more: string]: unknown;
}

export interface SheetSet {
  name: string;
  sun: string;
  small_sun?: string;
  ring?: string;
  carrier: string;
  inner_teeth?: number;
  [more: string]: unknown;
}

export interface SheetGear {
  name: string;
  a: string;
  b: string;
  teeth_a: number;
  teeth_b: number;
  chain?: boolean;
}

export interface Gearing {
  members: string[];
  names?: Record<string, string>;
  input: string;
  output: string;
  forward_sign: number;
  sets?: SheetSet[];
  gears?: SheetGear[];
  links?: { a: string; b: string; why?: string }[];
  converter?: { engine: string; turbine: string };
  [more: string]: unknown;
}

export interface Sheet {
  name: string;
  summary?: string;
  control: string;
  gearing?: Gearing;
  elements: SheetElement[] | null;
  ranges: SheetRange[] | null;
  [more: string]: unknown;
}

export type Draft = Omit<Schemas["DraftContent"], "sheet"> & { sheet: Sheet };
export type View = Schemas["Draft"];
export type Source = Schemas["SheetSource"];

export const sourcesOf = (s: Sheet) => (s.sources as Source[] | undefined) ?? [];

export const elementsOf = (s: Sheet) => s.elements ?? [];
export const rangesOf = (s: Sheet) => s.ranges ?? [];
export const hasGears = (s: Sheet) => (s.gearing?.members.length ?? 0) > 0;
export const memberName = (g: Gearing, id: string) => (id === "case" ? "case" : (g.names?.[id] ?? id));

/** What a cell of the chart shows. */
export type Mark = "on" | "holds" | "off";

export const markOf = (r: SheetRange, element: string, holding: string[]): Mark =>
  r.applied?.includes(element) ? "on" : holding.includes(element) ? "holds" : "off";

/** A tap on a cell: a one-way clutch is marked as holding, everything else as on. */
export function toggled(r: SheetRange, e: SheetElement): SheetRange {
  const field = e.kind === "freewheel" ? "holding" : "applied";
  const list = r[field] ?? [];
  return { ...r, [field]: list.includes(e.id) ? list.filter((x) => x !== e.id) : [...list, e.id] };
}

/** The first id of this kind that is free. */
export function freeID(taken: string[], stem: string): string {
  for (let n = 1; ; n++) {
    const id = `${stem}${n}`;
    if (!taken.includes(id)) return id;
  }
}

const ordinal = ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"];

/** The row that most likely comes next: the next forward gear, or what was asked for. */
export function nextRange(s: Sheet, outcome: string): SheetRange {
  const rows = rangesOf(s);
  const taken = rows.map((r) => r.id);
  if (outcome === "reverse")
    return { id: taken.includes("R") ? freeID(taken, "R") : "R", selector: "R", name: "Reverse", applied: [], outcome };
  if (outcome === "neutral")
    return { id: taken.includes("N") ? freeID(taken, "N") : "N", selector: "N", name: "Neutral", applied: [], outcome };
  const hand = s.control === "hand";
  const stem = hand ? "G" : "D";
  const n = rows.filter((r) => r.outcome === "forward" && r.id.startsWith(stem)).length + 1;
  const word = ordinal[n - 1] ?? `${n}`;
  const row: SheetRange = {
    id: taken.includes(`${stem}${n}`) ? freeID(taken, stem) : `${stem}${n}`,
    selector: hand ? `${n}` : "D",
    name: hand ? capital(word) : `Drive ${word}`,
    applied: [],
    outcome,
  };
  return hand || n === 1 ? row : { ...row, from: `${stem}${n - 1}` };
}

/** A sheet without an element: it leaves the chart as well. What else names it, the server passes over. */
export function withoutElement(s: Sheet, id: string): Sheet {
  const drop = (list?: string[] | null) => (list ?? []).filter((x) => x !== id);
  return {
    ...s,
    elements: elementsOf(s).filter((e) => e.id !== id),
    ranges: rangesOf(s).map((r) => ({ ...r, applied: drop(r.applied), holding: drop(r.holding) })),
  };
}

/** A value in which an id is another one, under the keys that name such ids. */
function renamed(v: unknown, keys: string[], from: string, to: string, key = ""): unknown {
  if (v === from && keys.includes(key)) return to;
  if (Array.isArray(v)) return v.map((x) => renamed(x, keys, from, to, key));
  if (v === null || typeof v !== "object") return v;
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, renamed(x, keys, from, to, k)]));
}

/** A sheet in which an element is called otherwise, wherever it is named. */
export function renamedElement(s: Sheet, from: string, to: string): Sheet {
  const keys = ["applied", "holding", "serves", "for", "beside", "series", "applies", "element"];
  const out = renamed({ ...s, gearing: undefined }, keys, from, to) as Sheet;
  return { ...out, gearing: s.gearing, elements: elementsOf(out).map((e) => (e.id === from ? { ...e, id: to } : e)) };
}

/** A sheet in which a range is called otherwise, wherever it is named. */
export function renamedRange(s: Sheet, from: string, to: string): Sheet {
  const out = renamed({ ...s, gearing: undefined }, ["from", "to", "lockup", "for"], from, to) as Sheet;
  return { ...out, gearing: s.gearing, ranges: rangesOf(out).map((r) => (r.id === from ? { ...r, id: to } : r)) };
}

/** A sheet without a range: what shifted up from it now shifts from the one below. */
export function withoutRange(s: Sheet, id: string): Sheet {
  const gone = rangesOf(s).find((r) => r.id === id);
  return {
    ...s,
    ranges: rangesOf(s)
      .filter((r) => r.id !== id)
      .map((r) => (r.from === id ? { ...r, from: gone?.from } : r)),
  };
}
