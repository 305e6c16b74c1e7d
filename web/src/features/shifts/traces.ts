import type { Schemas } from "../../api/client";
import type { ShiftsTold, ShiftTold } from "../../api/shifts";

/** Values over time; nothing where the logger had none. */
export interface Curve {
  at: number[];
  value: (number | undefined)[];
}

/** kPa in one of what pressures are written in. */
const inKPa: Record<string, number> = { kpa: 1, bar: 100, psi: 6.894757, mpa: 1000, pa: 0.001, "kg/cm²": 98.0665 };

/** What a value of one unit of pressure is in another. */
export const pressure = (v: number, from: string, to: string) => (v * (inKPa[from.toLowerCase()] ?? 1)) / (inKPa[to.toLowerCase()] ?? 1);

/** Whole psi and kPa, bar with a decimal. */
export const pressureDigits = (unit: string) => (unit === "bar" ? 1 : 0);

/** A channel of a trace between its least and greatest. */
export function curve(trace: Schemas["Trace"] | undefined, k: number, scale: (v: number) => number = (v) => v): Curve {
  const c = trace?.channels[k];
  return {
    at: trace?.at ?? [],
    value: (trace?.at ?? []).map((_, i) => {
      const low = c?.low[i];
      const high = c?.high[i];
      return typeof low === "number" && typeof high === "number" ? scale((low + high) / 2) : undefined;
    }),
  };
}

/** The value at a time, between the samples beside it. */
export function valueAt({ at, value }: Curve, t: number): number | undefined {
  let low = 0;
  let high = at.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((at[mid] ?? 0) < t) low = mid + 1;
    else high = mid;
  }
  const a = value[low - 1];
  const b = value[low];
  const ta = at[low - 1];
  const tb = at[low];
  if (a === undefined || ta === undefined) return b;
  if (b === undefined || tb === undefined || tb === ta) return a;
  return a + ((b - a) * (t - ta)) / (tb - ta);
}

/** Least and greatest of some curves, with room. */
export function reach(curves: Curve[], room = 0.08): [number, number] {
  const all = curves.flatMap((c) => c.value.filter((v): v is number => v !== undefined));
  if (all.length === 0) return [0, 1];
  const low = Math.min(...all);
  const high = Math.max(...all);
  const r = Math.max((high - low) * room, Math.abs(high) * 0.004, 1e-6);
  return [low - r, high + r];
}

/** Where the part to draw of a shift begins and ends, and the moment that its axis counts from. */
export function partOf(s: ShiftTold) {
  const zero = s.command?.at ?? s.leaves.at;
  return { zero, from: Math.min(zero, s.leaves.at) - 0.3, to: s.arrives.at + 0.45 };
}

/** Channels to draw of a shift: its speeds, what comes on and lets go, the line. */
export function channelsOf(told: ShiftsTold, s: Pick<ShiftTold, "on" | "off">) {
  const by = (role: string) => told.channels.find((c) => c.role === role);
  const tap = (list: Schemas["ShiftElement"][]) =>
    list.flatMap((e) => {
      const c = told.channels.find((x) => x.element === e.id);
      return c ? [{ ...c, title: e.name }] : [];
    });
  return { turbine: by("turbine"), output: by("output"), engine: by("engine"), line: by("line"), on: tap(s.on), off: tap(s.off) };
}

/** A round step for so many ticks over a stretch. */
export function ticks(low: number, high: number, most: number): number[] {
  const raw = (high - low) / Math.max(1, most);
  const tenth = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((k) => k * tenth).find((k) => k >= raw) ?? raw;
  const out = [];
  for (let v = Math.ceil(low / step) * step; v <= high + step * 1e-9; v += step) out.push(Math.abs(v) < step * 1e-9 ? 0 : v);
  return out;
}
