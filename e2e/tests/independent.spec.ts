import { expect, test } from "./app";
import { lusolve, unit } from "mathjs";
import { changeSettings } from "./server";

// The same numbers by a library that shares nothing with the app: mathjs, for units and for linear systems.

interface Range {
  applied: string[];
  holding: string[];
  id: string;
  ratio: number;
  driving: boolean;
  lineIdle: string;
  speeds: { member: string; speed: number; known: boolean }[];
}
interface Unit {
  ranges: Range[];
  maxTorque: string;
  fluid: { capacity: string; refill: string };
}

// Unknowns of the compound set, in this order.
const members = ["engine", "turbine", "S1", "S2", "carrier", "ring", "long", "short"];
const row = (terms: Record<string, number>) => members.map((m) => terms[m] ?? 0);

/** Willis for one mesh: external za(a−c) + zb(b−c) = 0, internal with the ring's pinion turning with it. */
const mesh = (a: string, b: string, za: number, zb: number) => row({ [a]: za, [b]: zb, carrier: -(za + zb) });

const gears = [
  mesh("S1", "short", 30, 18),
  mesh("short", "long", 18, 18),
  mesh("S2", "long", 36, 18),
  mesh("ring", "long", 72, -18),
  row({ engine: 1, turbine: -1 }),
];
const forward = row({ turbine: 1, S1: -1 });
const reverse = row({ turbine: 1, S2: -1 });
const direct = row({ engine: 1, carrier: -1 });
const sunHeld = row({ S2: 1 });
const carrierHeld = row({ carrier: 1 });

// What holds in each range, freewheels that hold written as held members.
const holds: Record<string, number[][]> = {
  R: [reverse, carrierHeld],
  D1: [forward, carrierHeld],
  D2: [forward, sunHeld],
  D3: [forward, direct],
  D4: [direct, sunHeld],
  M2: [forward, sunHeld],
  M1: [forward, carrierHeld],
};

test("member speeds and ratios agree with a linear system solved elsewhere", async ({ request }) => {
  const h4 = (await (await request.get("/api/units/norrad-h4")).json()) as Unit;
  const driving = h4.ranges.filter((r) => r.driving);
  expect(driving.map((r) => r.id).sort()).toEqual(Object.keys(holds).sort());
  for (const r of driving) {
    const system = [...gears, ...holds[r.id]!, row({ engine: 1 })];
    const solved = lusolve(
      system,
      system.map((_, i) => (i === system.length - 1 ? 1 : 0)),
    ) as number[][];
    const speed = (m: string) => solved[members.indexOf(m)]![0]!;
    expect(r.ratio, `ratio of ${r.id}`).toBeCloseTo(1 / speed("ring"), 9);
    for (const s of r.speeds.filter((x) => x.known)) expect(s.speed, `${s.member} in ${r.id}`).toBeCloseTo(speed(s.member), 9);
  }
});

test("units of measure agree with a library of units", async ({ request }) => {
  const metric = (await (await request.get("/api/units/norrad-h4")).json()) as Unit;
  const before = await changeSettings(request, { pressure: "kPa", torque: "lbf·ft", volume: "pt" });
  const other = (await (await request.get("/api/units/norrad-h4")).json()) as Unit;
  await changeSettings(request, before);

  const number = (text: string) => Number(text.split(" ")[0]!.replace(",", ""));
  for (const [i, r] of metric.ranges.entries()) {
    const [low, high] = r.lineIdle.replace(" psi", "").split("–").map(Number);
    const [lowK, highK] = other.ranges[i]!.lineIdle.replace(" kPa", "").split("–").map(Number);
    expect(lowK).toBe(Math.round(unit(low!, "psi").toNumber("kPa")));
    expect(highK).toBe(Math.round(unit(high!, "psi").toNumber("kPa")));
  }
  expect(number(other.maxTorque)).toBe(Math.round(unit(number(metric.maxTorque), "N m").toNumber("lbf ft")));
  expect(number(other.fluid.capacity)).toBeCloseTo(unit(number(metric.fluid.capacity), "L").toNumber("pint"), 1);
});

interface Sheet {
  gearing: {
    input: string;
    output: string;
    forward_sign: number;
    sets?: {
      sun: string;
      sun_teeth: number;
      small_sun?: string;
      small_sun_teeth?: number;
      inner_teeth?: number;
      ring: string;
      ring_teeth: number;
      carrier: string;
    }[];
    gears?: { a: string; b: string; teeth_a: number; teeth_b: number; chain?: boolean }[];
    links?: { a: string; b: string }[];
    converter?: { engine: string; turbine: string };
  };
  elements: { id: string; a: string; b: string }[];
}

/** What must be zero in a range: the closed equation of each set (planets eliminated by hand), each pair of gears, each element that holds. */
function residuals(sheet: Sheet, on: string[], w: (m: string) => number | undefined): number[] {
  const g = sheet.gearing;
  const same = (a: string, b: string) =>
    [
      [a, 1],
      [b, -1],
    ] as [string, number][];
  const rows: [string, number][][] = [];
  for (const s of g.sets ?? []) {
    const sign = s.inner_teeth ? -1 : 1;
    rows.push([
      [s.sun, s.sun_teeth],
      [s.ring, sign * s.ring_teeth],
      [s.carrier, -(s.sun_teeth + sign * s.ring_teeth)],
    ]);
    if (s.small_sun && s.small_sun_teeth)
      rows.push([
        [s.small_sun, s.small_sun_teeth],
        [s.ring, -s.ring_teeth],
        [s.carrier, s.ring_teeth - s.small_sun_teeth],
      ]);
  }
  for (const p of g.gears ?? [])
    rows.push([
      [p.a, p.teeth_a],
      [p.b, p.chain ? -p.teeth_b : p.teeth_b],
    ]);
  for (const l of g.links ?? []) rows.push(same(l.a, l.b));
  if (g.converter) rows.push(same(g.converter.engine, g.converter.turbine));
  for (const e of sheet.elements.filter((x) => on.includes(x.id))) rows.push(same(e.a, e.b));
  return rows.flatMap((r) => {
    const known = r.map(([m, k]) => [m === "case" ? 0 : w(m), k] as const);
    return known.some(([v]) => v === undefined) ? [] : [known.reduce((sum, [v, k]) => sum + v! * k, 0)];
  });
}

test("in every range of every sheet the closed equations of its gears hold", async ({ request }) => {
  const units = (await (await request.get("/api/units")).json()) as { id: string; generic: boolean }[];
  let checked = 0;
  for (const { id } of units.filter((u) => !u.generic)) {
    const unit = (await (await request.get(`/api/units/${id}`)).json()) as Unit;
    const sheet = (await (await request.get(`/api/units/${id}/sheet?format=json`)).json()) as Sheet;
    for (const r of unit.ranges.filter((x) => x.driving)) {
      const speeds = new Map(r.speeds.filter((s) => s.known).map((s) => [s.member, s.speed]));
      const left = residuals(sheet, [...r.applied, ...r.holding], (m) => speeds.get(m));
      expect(Math.max(...left.map(Math.abs)), `${id} ${r.id}`).toBeLessThan(1e-9);
      expect(r.ratio * speeds.get(sheet.gearing.output)! * sheet.gearing.forward_sign, `${id} ${r.id}`).toBeCloseTo(1, 9);
      checked += left.length;
    }
  }
  expect(checked).toBeGreaterThan(300);
});
