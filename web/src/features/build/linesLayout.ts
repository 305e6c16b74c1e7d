import { elementsOf, hasGears, memberName, type Gearing, type Sheet, type SheetElement } from "./sheet";

/** Sizes of the drawing: its columns stand over those of the chart. */
export const size = { label: 150, column: 62, lane: 27, tapped: 44, top: 46, set: 58, end: 76 };

export interface Lane {
  id: string;
  name: string;
  y: number;
  role: "in" | "out" | "";
}

/** An element over its column of the chart, between two lines or a line and the case. */
export interface Joint {
  element: SheetElement;
  x: number;
  from?: number;
  to?: number;
}

/** A gear set, or a pair of gears, with its wheels on their lines. */
export interface Wheels {
  name: string;
  x: number;
  chain: boolean;
  wheels: { word: string; title: string; y: number; ground: boolean }[];
}

export interface Lines {
  width: number;
  height: number;
  lanes: Lane[];
  joints: Joint[];
  wheels: Wheels[];
}

/**
 * Lines and joints: every part that turns as one is a line, a gear set stands on the lines that it joins, an element lies between the
 * two that it couples. Any train can be drawn so, one's own included.
 */
export function linesOf(sheet: Sheet, lane = size.lane): Lines {
  const elements = elementsOf(sheet);
  const g = hasGears(sheet) ? sheet.gearing : undefined;
  const lanes = g ? lanesOf(g, lane) : [];
  const y = (id: string) => (id === "case" ? size.top - 20 : lanes.find((l) => l.id === id)?.y);
  const joints = elements.map((element, i) => ({
    element,
    x: size.label + (i + 0.5) * size.column,
    from: element.a ? y(element.a) : undefined,
    to: element.b ? y(element.b) : undefined,
  }));
  const left = size.label + elements.length * size.column + 12;
  const wheels = g ? wheelsOf(g, y, left) : [];
  return {
    width: left + Math.max(wheels.length * size.set, 200) + size.end,
    height: size.top + lanes.length * lane + 6,
    lanes,
    joints,
    wheels,
  };
}

function lanesOf(g: Gearing, lane: number): Lane[] {
  const between = g.members.filter((m) => m !== g.input && m !== g.output);
  return [g.input, ...between, g.output].map((id, i) => ({
    id,
    name: memberName(g, id),
    y: size.top + (i + 0.5) * lane,
    role: id === g.input ? "in" : id === g.output ? "out" : "",
  }));
}

function wheelsOf(g: Gearing, y: (id: string) => number | undefined, left: number): Wheels[] {
  const out: Wheels[] = [];
  const x = () => left + (out.length + 0.5) * size.set;
  const wheel = (word: string, title: string, member?: string) => {
    const at = member ? y(member) : undefined;
    return at === undefined ? [] : [{ word, title, y: at, ground: member === "case" }];
  };
  for (const s of g.sets ?? []) {
    out.push({
      name: s.name,
      x: x(),
      chain: false,
      wheels: [
        ...wheel("S", "sun", s.small_sun ? undefined : s.sun),
        ...wheel("L", "large sun", s.small_sun ? s.sun : undefined),
        ...wheel("s", "small sun", s.small_sun),
        ...wheel("C", "carrier", s.carrier),
        ...wheel("R", "ring", s.ring),
      ],
    });
  }
  for (const p of g.gears ?? []) {
    out.push({
      name: p.name,
      x: x(),
      chain: p.chain ?? false,
      wheels: [...wheel(`${p.teeth_a}`, p.name, p.a), ...wheel(`${p.teeth_b}`, p.name, p.b)],
    });
  }
  return out;
}
