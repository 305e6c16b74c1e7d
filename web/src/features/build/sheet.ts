import type { Schemas } from "../../api/client";

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
    name: hand ? word.charAt(0).toUpperCase() + word.slice(1) : `Drive ${word}`,
    applied: [],
    outcome,
  };
  return hand || n === 1 ? row : { ...row, from: `${stem}${n - 1}` };
}

/** A sheet without an element: it leaves the chart as well. */
export function withoutElement(s: Sheet, id: string): Sheet {
  const drop = (list?: string[] | null) => (list ?? []).filter((x) => x !== id);
  return {
    ...s,
    elements: elementsOf(s).filter((e) => e.id !== id),
    ranges: rangesOf(s).map((r) => ({ ...r, applied: drop(r.applied), holding: drop(r.holding) })),
    ...dropServed(s, id),
  };
}

/** Feeds and shared parts no longer serve an element that is gone. */
function dropServed(s: Sheet, id: string): Partial<Sheet> {
  type Serves = { serves: string[] };
  const thin = (list: unknown, least: number) =>
    Array.isArray(list)
      ? (list as Serves[]).map((x) => ({ ...x, serves: x.serves.filter((e) => e !== id) })).filter((x) => x.serves.length >= least)
      : list;
  return { feeds: thin(s.feeds, 1), shared: thin(s.shared, 2) };
}

/** A sheet in which an element is called otherwise, wherever it is named. */
export function renamedElement(s: Sheet, from: string, to: string): Sheet {
  const swap = (list?: string[] | null) => (list ?? []).map((x) => (x === from ? to : x));
  type Serves = { serves: string[] };
  const serve = (list: unknown) => (Array.isArray(list) ? (list as Serves[]).map((x) => ({ ...x, serves: swap(x.serves) })) : list);
  return {
    ...s,
    elements: elementsOf(s).map((e) => ({
      ...e,
      id: e.id === from ? to : e.id,
      ...(e.beside === from ? { beside: to } : {}),
      ...(e.series === from ? { series: to } : {}),
    })),
    ranges: rangesOf(s).map((r) => ({ ...r, applied: swap(r.applied), holding: swap(r.holding) })),
    feeds: serve(s.feeds),
    shared: serve(s.shared),
  };
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
