import { elementsOf, type Gearing, type Sheet, type SheetElement, type SheetSet } from "./sheet";

/** Gears with nothing between input and output yet. */
export const bareGearing = (): Gearing => ({
  members: ["in", "out"],
  names: { in: "turbine", out: "output" },
  input: "in",
  output: "out",
  forward_sign: 1,
});

/** The first number that no set or pair has yet. */
function nextNumber(g: Gearing, word: string): number {
  const taken = [...(g.sets ?? []), ...(g.gears ?? [])].map((x) => x.name);
  for (let n = 1; ; n++) if (!taken.includes(`${word} ${n}`)) return n;
}

/** Teeth to begin with: they mesh and assemble; the printed ratios find others. */
const usual = {
  simple: { sun_teeth: 30, planet_teeth: 21, ring_teeth: 72, count: 3 },
  paired: { sun_teeth: 36, inner_teeth: 16, planet_teeth: 16, ring_teeth: 84, count: 3 },
  "two suns": { sun_teeth: 36, small_sun_teeth: 30, planet_teeth: 18, short_teeth: 18, ring_teeth: 72, count: 3 },
};

/** One more planetary set, each of its parts a line of its own. */
export function withSet(g: Gearing, kind: keyof typeof usual): Gearing {
  const n = nextNumber(g, "set");
  const parts: [string, string][] = [
    [`S${n}`, kind === "two suns" ? `large sun ${n}` : `sun ${n}`],
    ...(kind === "two suns" ? ([[`s${n}`, `small sun ${n}`]] as [string, string][]) : []),
    [`C${n}`, `carrier ${n}`],
    [`R${n}`, `ring ${n}`],
  ];
  const set: SheetSet = {
    name: `set ${n}`,
    sun: `S${n}`,
    ...(kind === "two suns" ? { small_sun: `s${n}` } : {}),
    ring: `R${n}`,
    carrier: `C${n}`,
    ...usual[kind],
  };
  return {
    ...g,
    members: [...g.members, ...parts.map(([id]) => id)],
    names: { ...g.names, ...Object.fromEntries(parts) },
    sets: [...(g.sets ?? []), set],
  };
}

function withGear(g: Gearing, word: string, chain: boolean, teeth: [number, number]): Gearing {
  const n = nextNumber(g, word);
  const [a, b] = [`${word[0]}${n}a`, `${word[0]}${n}b`];
  return {
    ...g,
    members: [...g.members, a, b],
    names: { ...g.names, [a]: `${word} ${n}, drives`, [b]: `${word} ${n}, driven` },
    gears: [...(g.gears ?? []), { name: `${word} ${n}`, a, b, teeth_a: teeth[0], teeth_b: teeth[1], ...(chain ? { chain: true } : {}) }],
  };
}

/** One more pair of gears about shafts that stand still. */
export const withPair = (g: Gearing) => withGear(g, "pair", false, [30, 34]);

/** One more chain with its sprockets. */
export const withChain = (g: Gearing) => withGear(g, "chain", true, [36, 36]);

/** Every place that names a line, with the line called otherwise. */
function swapped(s: Sheet, g: Gearing, from: string, to: string): Sheet {
  const swap = (m: string) => (m === from ? to : m);
  return {
    ...s,
    gearing: {
      ...g,
      input: swap(g.input),
      output: swap(g.output),
      members: g.members.filter((m) => m !== from),
      sets: g.sets?.map((x) => ({
        ...x,
        sun: swap(x.sun),
        carrier: swap(x.carrier),
        ...(x.ring ? { ring: swap(x.ring) } : {}),
        ...(x.small_sun ? { small_sun: swap(x.small_sun) } : {}),
      })),
      gears: g.gears?.map((x) => ({ ...x, a: swap(x.a), b: swap(x.b) })),
      links: g.links?.map((x) => ({ ...x, a: swap(x.a), b: swap(x.b) })).filter((x) => x.a !== x.b),
    },
    elements: elementsOf(s).map((e) => ({ ...e, ...(e.a ? { a: swap(e.a) } : {}), ...(e.b ? { b: swap(e.b) } : {}) })),
  };
}

const without = (names: Record<string, string> | undefined, id: string) =>
  Object.fromEntries(Object.entries(names ?? {}).filter(([m]) => m !== id));

/** Two lines that turn as one are one line, with both names. */
export function joined(s: Sheet, g: Gearing, a: string, b: string): Sheet {
  const [keep, gone] = b === g.input || b === g.output ? [b, a] : [a, b];
  if (gone === g.input || gone === g.output) return s; // input and output stay two
  const word = (m: string) => g.names?.[m] ?? m;
  return swapped(s, { ...g, names: { ...without(g.names, gone), [keep]: `${word(keep)}, ${word(gone)}` } }, gone, keep);
}

/** A line that never turns. */
export function tied(s: Sheet, g: Gearing, member: string): Sheet {
  return swapped(s, { ...g, names: without(g.names, member) }, member, "case");
}

export const named = (g: Gearing, member: string, name: string): Gearing => ({ ...g, names: { ...g.names, [member]: name } });

/** Gears without a set or pair; lines that nothing touches any more go with it. */
export function removedSet(g: Gearing, name: string): Gearing {
  const sets = g.sets?.filter((x) => x.name !== name);
  const gears = g.gears?.filter((x) => x.name !== name);
  const touched = [
    g.input,
    g.output,
    ...(sets ?? []).flatMap((x) => [x.sun, x.small_sun, x.ring, x.carrier]),
    ...(gears ?? []).flatMap((x) => [x.a, x.b]),
    ...(g.links ?? []).flatMap((x) => [x.a, x.b]),
  ];
  return { ...g, sets, gears, members: g.members.filter((m) => touched.includes(m)) };
}

/** An element after a tap on a line: it lets go of it, takes it where a side is free, or moves there the side that is no case. */
export function placed(e: SheetElement, line: string): SheetElement {
  if (e.a === line) return { ...e, a: undefined };
  if (e.b === line) return { ...e, b: undefined };
  if (!e.a || (e.b === "case" && e.a)) return { ...e, a: line };
  return { ...e, b: line };
}

/** Lines that are picked after a tap: one more, at most two. */
export const pickedAfter = (picked: string[], line: string) =>
  picked.includes(line) ? picked.filter((x) => x !== line) : [...picked.slice(-1), line];
