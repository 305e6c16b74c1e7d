import type { ShiftTold } from "../../api/shifts";
import { number } from "../../shared/format";
import { valueAt, type Curve } from "./traces";

export interface Band {
  name: string;
  from: number;
  to: number;
  length?: string;
  fill?: "line" | "brass-soft";
}

/** The phases that are known, in their order. */
export function phases(s: ShiftTold, part: { from: number; to: number }): Band[] {
  const out: Band[] = [];
  const word = (v: number) => `${number(v, 2)} s`;
  if (s.command && s.filled && s.fill)
    out.push({ name: "fill", from: s.command.at, to: s.filled.at, length: word(s.fill.value), fill: "line" });
  else if (s.command)
    out.push({ name: "commanded", from: s.command.at, to: s.leaves.at, length: word(s.leaves.at - s.command.at), fill: "line" });
  if (s.filled && s.torque && s.filled.at < s.leaves.at)
    out.push({ name: "torque", from: s.filled.at, to: s.leaves.at, length: word(s.torque.value) });
  out.push({ name: "inertia", from: s.leaves.at, to: s.arrives.at, length: word(s.inertia.value), fill: "brass-soft" });
  out.push({ name: "hold", from: s.arrives.at, to: part.to });
  return out;
}

/** Bands whose names have room; a narrow one keeps its name and leaves its length to the numbers. */
export function labelled(bands: Band[], x: (t: number) => number): Band[] {
  return bands.flatMap((b) => {
    const w = x(b.to) - x(b.from);
    if (w < b.name.length * 7 + 6) return [];
    return [w < b.name.length * 7 + 50 ? { ...b, length: undefined } : b];
  });
}

export const inside = (c: Curve, from: number, to: number): Curve => ({
  at: c.at,
  value: c.value.map((v, i) => ((c.at[i] ?? 0) >= from && (c.at[i] ?? 0) <= to ? v : undefined)),
});

/** A path through the samples of a stretch, broken where the logger had none. */
export function draw(c: Curve, x: (t: number) => number, y: (v: number) => number, from: number, to: number): string {
  let d = "";
  let down = false;
  c.at.forEach((t, i) => {
    const v = c.value[i];
    if (v === undefined || t < from - 0.06 || t > to + 0.06) {
      down = false;
      return;
    }
    d += `${down ? "L" : "M"}${x(t).toFixed(1)} ${y(v).toFixed(1)}`;
    down = true;
  });
  return d;
}

/** The area by which one curve is above another. */
export function between(a: Curve, b: Curve, x: (t: number) => number, y: (v: number) => number, from: number, to: number): string {
  const top: string[] = [];
  const under: string[] = [];
  a.at.forEach((t, i) => {
    const v = a.value[i];
    const w = valueAt(b, t);
    if (t < from || t > to || v === undefined || w === undefined) return;
    top.push(`${x(t).toFixed(1)} ${y(Math.max(v, w)).toFixed(1)}`);
    under.unshift(`${x(t).toFixed(1)} ${y(w).toFixed(1)}`);
  });
  return top.length > 1 ? `M${top.join("L")}L${under.join("L")}Z` : "";
}

/** A speed without the swing of its shaft: the mean over a fifth of a second about each sample. */
export function steady(c: Curve): Curve {
  const half = 0.1;
  return {
    at: c.at,
    value: c.at.map((t) => {
      let sum = 0;
      let n = 0;
      c.at.forEach((u, i) => {
        const v = c.value[i];
        if (v !== undefined && Math.abs(u - t) <= half) [sum, n] = [sum + v, n + 1];
      });
      return n ? sum / n : undefined;
    }),
  };
}
