import type { Orders } from "../../api/recordings";

/** The order map in the units of its drawing: speed to the right, frequency upward, one ray from the origin for each source. */
export const frame = { width: 866, height: 580, left: 58, top: 26, right: 212, bottom: 46 };

export interface Scale {
  /** Speeds on the axis for one turn a second of the output, and what they are in. */
  per: number;
  unit: string;
  xMost: number;
  yMost: number;
}

const inner = { width: frame.width - frame.left - frame.right, height: frame.height - frame.top - frame.bottom };

export const x = (s: Scale, speed: number) => frame.left + (speed / s.xMost) * inner.width;
export const y = (s: Scale, hz: number) => frame.top + inner.height - (hz / s.yMost) * inner.height;
export const speedAt = (s: Scale, px: number) => ((px - frame.left) / inner.width) * s.xMost;
export const hertzAt = (s: Scale, py: number) => ((frame.top + inner.height - py) / inner.height) * s.yMost;

/** Round numbers on an axis, some five to seven of them. */
export function ticks(most: number): number[] {
  const rough = most / 6;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * power).find((m) => m >= rough) ?? rough;
  return Array.from({ length: Math.floor(most / step + 1e-9) + 1 }, (_, i) => i * step);
}

/** What the speed axis may show. */
export type Axis = "road" | "engine" | "output";

/** The axes that there are: the road where axle and tire are known, the engine where the range ties it to the output. */
export const axesOf = (o: Orders): [Axis, string][] => [
  ...(o.perOutput > 0 ? ([["road", "road speed"]] as [Axis, string][]) : []),
  ...(o.enginePerOutput > 0 ? ([["engine", "engine speed"]] as [Axis, string][]) : []),
  ["output", "output speed"],
];

/** By the axis that was chosen, or by the first that there is. */
export function scaleOf(o: Orders, road: { per: number; unit: string }, axis?: Axis): Scale {
  const by = axesOf(o).find(([a]) => a === axis)?.[0] ?? axesOf(o)[0]?.[0] ?? "output";
  const { per, unit, step } = {
    road: { per: o.perOutput * road.per, unit: road.unit, step: 10 },
    engine: { per: 60 * o.enginePerOutput, unit: "rpm of the engine", step: 500 },
    output: { per: 60, unit: "rpm of the output", step: 500 },
  }[by];
  const fastest = (o.picture.xFrom + o.picture.xStep * o.picture.cells.length) * per;
  return {
    per,
    unit,
    xMost: Math.ceil((fastest * 1.05) / step) * step,
    yMost: Math.max(1, o.picture.yStep * (o.picture.cells[0]?.length ?? 1)),
  };
}

export interface Ray {
  key: string;
  name: string;
  order: number;
  class: number;
  multiple: number;
  /** The first and second that the ridge in hand could be; 2 and more are the rest. */
  rank: number;
  end: [number, number];
  label: number;
}

const mostRays = 9;
const lineHeight = 31;

/** Where a ray leaves the map: at its right edge, or at its top. */
function leaves(s: Scale, order: number): [number, number] {
  const right = (order * s.xMost) / s.per;
  return right <= s.yMost ? [x(s, s.xMost), y(s, right)] : [x(s, (s.yMost / order) * s.per), y(s, s.yMost)];
}

/** The rays that are drawn: what the ridge in hand could be, what other ridges could be, then what the vehicle has anyway; the rest is counted. */
export function raysOf(o: Orders, s: Scale, ridge: number, hidden: ReadonlySet<string>): { rays: Ray[]; others: number } {
  const wanted: { class: number; multiple: number; rank: number }[] = [];
  const add = (c: number, multiple: number, rank: number) => {
    if (!wanted.some((w) => w.class === c && w.multiple === multiple)) wanted.push({ class: c, multiple, rank });
  };
  o.ridges[ridge]?.could.slice(0, 2).forEach((c, i) => add(c.class, c.multiple, i));
  o.ridges.forEach((r) => r.drive === 0 && r.could[0] && r.could[0].probability > 0.3 && add(r.could[0].class, r.could[0].multiple, 2));
  const plain = ["wheel", "shaft", "engine", "pump", "planets", "gears"];
  const rest = o.sources
    .map((q, i) => ({ q, i }))
    .filter(({ q }) => !q.quiet && (q.orders[0] ?? 0) > 0)
    .sort((a, b) => ((plain.indexOf(a.q.family) + 9) % 9) - ((plain.indexOf(b.q.family) + 9) % 9));
  for (const { q, i } of rest) if (wanted.length < mostRays && (q.orders[0] ?? 0) * (o.to || 1) < s.yMost * 1.6) add(i, 1, 3);
  const rays = wanted
    .flatMap(({ class: c, multiple, rank }): Ray[] => {
      const q = o.sources[c];
      const order = (q?.orders[0] ?? 0) * multiple;
      const key = `${c} ${multiple}`;
      if (!q || order <= 0 || hidden.has(key)) return [];
      return [
        { key, name: multiple > 1 ? `${multiple}× ${q.name}` : q.name, order, class: c, multiple, rank, end: leaves(s, order), label: 0 },
      ];
    })
    .sort((a, b) => b.order - a.order);
  placeLabels(rays);
  return { rays, others: o.sources.filter((q) => (q.orders[0] ?? 0) > 0).length - rays.length };
}

/** Labels stand at the right in the order of their rays, none upon another. */
function placeLabels(rays: Ray[]) {
  let last = frame.top - lineHeight / 2;
  for (const r of rays) {
    r.label = Math.max(r.end[1], last + lineHeight);
    last = r.label;
  }
  let limit = frame.height - frame.bottom + 8;
  for (const r of [...rays].reverse()) {
    r.label = Math.min(r.label, limit);
    limit = r.label - lineHeight;
  }
}
