import { expect, test } from "@playwright/test";
import { lusolve, unit } from "mathjs";

// The same numbers by a library that shares nothing with the app: mathjs, for units and for linear systems.

interface Range {
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

const gears = [mesh("S1", "short", 30, 18), mesh("short", "long", 18, 18), mesh("S2", "long", 36, 18), mesh("ring", "long", 72, -18), row({ engine: 1, turbine: -1 })];
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
  const settings = (await (await request.get("/api/settings")).json()) as Record<string, unknown> & { rev: number };
  const { people: _people, ...before } = settings;
  const metric = (await (await request.get("/api/units/norrad-h4")).json()) as Unit;
  const saved = await request.put("/api/settings", { data: { ...before, pressure: "kPa", torque: "lbf·ft", volume: "pt" } });
  expect(saved.ok()).toBe(true);
  const other = (await (await request.get("/api/units/norrad-h4")).json()) as Unit;
  await request.put("/api/settings", { data: { ...before, rev: before.rev + 1 } });

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
