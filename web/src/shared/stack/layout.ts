import type { Schemas } from "../../api/client";

export type Stack = Schemas["Stack"];
export type StackPart = Schemas["StackPart"];

/** A rectangle in mm: x to the rear, y upward. */
export type Box = [number, number, number, number];

/** A part as it is drawn: its boxes where it stands in this drawing. */
export interface Placed {
  part: StackPart;
  index: number;
  upper: Box[]; // cut open
  lower: Box[]; // below the axis; of a flat part none
  axis: number; // mm above the main shaft
  hull: Box;
}

export const hullOf = (boxes: Box[]): Box =>
  boxes.reduce<Box>(
    ([a, b, c, d], [x0, x1, y0, y1]) => [Math.min(a, x0), Math.max(b, x1), Math.min(c, y0), Math.max(d, y1)],
    [Infinity, -Infinity, Infinity, -Infinity],
  );

/** Parts with a place, moved by their shifts; those that are gone are left out. Round parts have two boxes for each: above and below their axis. */
export function place(parts: StackPart[], shift: (p: StackPart, i: number) => number[], gone: (id: string) => boolean): Placed[] {
  return parts.flatMap((part, index) => {
    if (part.boxes.length === 0 || gone(part.id)) return [];
    const [dx = 0, dy = 0] = shift(part, index);
    const moved = part.boxes.map(([x0 = 0, x1 = 0, y0 = 0, y1 = 0]): Box => [x0 + dx, x1 + dx, y0 + dy, y1 + dy]);
    const upper = part.flat ? moved : moved.filter((_, i) => i % 2 === 0);
    const lower = part.flat ? [] : moved.filter((_, i) => i % 2 === 1);
    const axis = lower.length ? (upper[0]![3] + lower[0]![2]) / 2 : 0;
    return [{ part, index, upper, lower, axis, hull: hullOf(moved) }];
  });
}

/** A piece of what is seen from outside: a part over a length of the shaft, from its surface to the axis. */
export interface Seen {
  p: Placed;
  box: Box;
  radius: number;
}

/** The lower half from outside: what lies further in is drawn first and hidden by what lies further out. */
export const seen = (placed: Placed[]): Seen[] =>
  placed
    .flatMap((p) => p.lower.map((b): Seen => ({ p, box: [b[0], b[1], b[2], p.axis], radius: p.axis - b[2] })))
    .sort((a, b) => a.radius - b.radius);

/** The holder that a part leaves the unit with: itself, or what it sits in at last. */
export function topOf(parts: StackPart[]): Map<string, string> {
  const by = new Map(parts.map((p) => [p.id, p]));
  const top = (p: StackPart): string => {
    const up = by.get(p.sitsIn);
    return up ? top(up) : p.id;
  };
  return new Map(parts.map((p) => [p.id, top(p)]));
}

export interface Label {
  id: string;
  number: string;
  lines: string[];
  x: number; // px of its middle
  row: number;
  at: number; // px of what it names
}

/** The name that stands in the drawing: what comes after "with" or a comma is in the list. */
export const short = (name: string) => name.replace(/(,| with | driven by ).*$/, "");

/** A name in at most two lines. */
export function wrapped(name: string, most: number): string[] {
  const words = name.split(" ");
  const lines: string[] = [""];
  for (const w of words) {
    const last = lines[lines.length - 1]!;
    if (last && last.length + w.length + 1 > most) lines.push(w);
    else lines[lines.length - 1] = last ? `${last} ${w}` : w;
  }
  if (lines.length <= 2) return lines;
  return [
    lines[0]!,
    `${lines
      .slice(1)
      .join(" ")
      .slice(0, most - 1)}…`,
  ];
}

/** Labels in rows so that none covers another; x in px, from left to right. */
export function labelled(named: { id: string; number: string; name: string; at: number }[], width: number, rows: number): Label[] {
  const ends = Array.from({ length: rows }, () => -Infinity);
  return [...named]
    .sort((a, b) => a.at - b.at)
    .map((n) => {
      const lines = wrapped(short(n.name), 17);
      const half = Math.max(16, (Math.max(...lines.map((l) => l.length)) * 6.6) / 2 + 5);
      const free = ends.findIndex((end) => end <= n.at - half);
      const row = free >= 0 ? free : ends.indexOf(Math.min(...ends));
      const x = Math.min(Math.max(free >= 0 ? n.at : ends[row]! + half, half), width - half);
      ends[row] = x + half;
      return { id: n.id, number: n.number, lines, x, row, at: n.at };
    });
}
