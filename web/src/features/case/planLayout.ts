import type { Schemas } from "../../api/client";

type Plan = Schemas["Plan"];

/** Measures of the drawing, in its own units. */
export const figure = { width: 920, top: 40, full: 116, bottom: 300 };
const lead = 96; // before the first check
const nodeGap = 54; // from a check to its first stop
const least = 2; // of a band, so that one in a hundred is seen

export interface DrawnStop {
  x: number;
  width: number;
  y0: number;
  y1: number;
  from: number;
  stop: Schemas["PlanStop"];
  key: string;
}

export interface DrawnNode {
  x: number;
  step: Schemas["PlanStep"];
}

export interface Drawn {
  nodes: DrawnNode[];
  stops: DrawnStop[];
  /** The stream between two checks: from x to x, with its height. */
  stream: { x0: number; x1: number; height: number }[];
  column: number;
}

/** Where everything of a path stands: checks from left to right, behind each the stops at which vehicles leave. */
export function layout(plan: Plan): Drawn {
  const groups = [...plan.steps.map((s) => s.stops), plan.end];
  const stops = groups.reduce((n, g) => n + g.length, 0);
  const column = Math.min(150, (figure.width - lead - nodeGap * plan.steps.length) / Math.max(1, stops));
  const out: Drawn = { nodes: [], stops: [], stream: [], column };
  let x = lead;
  let height = figure.full;
  let from = 0;
  const leave = (group: Schemas["PlanStop"][], at: number, key: string) => {
    // The lowest band goes to the nearest stop, so that no two cross.
    let y1 = figure.top + height;
    group.forEach((stop, i) => {
      const width = Math.max(least, stop.share * figure.full);
      out.stops.push({ x: x + column / 2, width, y0: y1 - stop.share * figure.full, y1, from: at, stop, key: `${key}.${i}` });
      y1 -= stop.share * figure.full;
      x += column;
    });
  };
  plan.steps.forEach((step, i) => {
    out.stream.push({ x0: from, x1: x, height });
    out.nodes.push({ x, step });
    const at = x;
    x += nodeGap;
    leave(step.stops, at, `${i}`);
    height = step.on * figure.full;
    from = at;
  });
  const last = out.nodes.at(-1)?.x ?? 0;
  out.stream.push({ x0: from, x1: last, height });
  leave(plan.end, last, "end");
  return out;
}

/** The band of a stop: along the stream, then down to it. */
export function band(s: DrawnStop): string {
  const r = 14;
  const [left, right] = [s.x - s.width / 2, s.x + s.width / 2];
  const [a, b] = [s.y0, Math.max(s.y1, s.y0 + least)];
  const inner = Math.min(r, Math.max(0, left - s.from));
  return (
    `M${s.from} ${a}H${right - r - s.width * 0.5}Q${right} ${a} ${right} ${a + r + s.width * 0.5}V${figure.bottom}H${left}` +
    `V${b + inner}Q${left} ${b} ${left - inner} ${b}H${s.from}Z`
  );
}
