import { expect, test } from "@playwright/test";
import { answered, keyOf } from "../../web/src/api/keys";
import type { Case, Schemas } from "../../web/src/api/client";
import { chainLayout } from "../../web/src/features/case/chainLayout";
import { newer, wholeCase, withNews, withRanking } from "../../web/src/api/caseParts";
import { number, percent, restyled, setNotation, short, signed } from "../../web/src/shared/format";
import { ticks } from "../../web/src/shared/instrument/ticks";
import { entryOf, textOf, type Input } from "../../web/src/shared/instrument/typed";

// The page's own logic, without a page.

test.describe("numbers", () => {
  test.afterEach(() => setNotation(undefined, undefined));

  test("are written as the shop writes them", () => {
    const written = (sample: string) => {
      setNotation(sample, "Europe/Oslo");
      return [number(1234567.891, 2), number(-0.4), short(2050.5), signed(-1234.5)];
    };
    expect(written("1,234.5")).toEqual(["1,234,567.89", "0", "2,050.5", "−1,234.5"]);
    expect(written("1.234,5")).toEqual(["1.234.567,89", "0", "2.050,5", "−1.234,5"]);
    expect(written("1 234,5")).toEqual(["1 234 567,89", "0", "2 050,5", "−1 234,5"]);
  });

  test("that are typed follow a change of notation, mark by mark", () => {
    expect(restyled("1,234.5 km", "1,234.5", "1.234,5")).toBe("1.234,5 km");
    expect(restyled("1.234,5", "1.234,5", "1,234.5")).toBe("1,234.5");
  });

  test("never claim to be certain", () => {
    expect([0, 0.001, 0.004, 0.5, 0.994, 0.999, 1].map(percent)).toEqual(["0", "<1", "<1", "50", "99", ">99", "100"]);
  });
});

test.describe("what is typed into an instrument", () => {
  const input = (typed: string, more: Partial<Input> = {}) =>
    ({ kind: "number", typed, unit: "mm", units: ["mm", "in", "m"], ...more }) as Input;

  test("keeps its unit in the unit's own place", () => {
    expect(entryOf(input("1.5 in"))).toEqual({ text: "1.5", unit: "in" });
    expect(entryOf(input("1.5 ± 0.1 m"))).toEqual({ text: "1.5 ± 0.1", unit: "m" });
    expect(entryOf(input("about 1.5 in"))).toEqual({ text: "about 1.5 in", unit: "mm" });
    expect(entryOf(input(""))).toEqual({ text: "", unit: "mm" });
  });

  test("gets the unit beside it when it has none of its own", () => {
    expect(textOf(input(""), { text: " 1.5 ", unit: "mm" })).toBe("1.5 mm");
    expect(textOf(input(""), { text: "1.5 in", unit: "mm" })).toBe("1.5 in");
    expect(textOf(input(""), { text: "1.5e-3", unit: "m" })).toBe("1.5e-3 m");
    expect(textOf(input(""), { text: "", unit: "mm" })).toBe("");
    expect(textOf(input("", { kind: "choice" }), { text: "dry", unit: "mm" })).toBe("dry");
  });

  test("is the same after it was shown and sent again", () => {
    for (const typed of ["1.5 in", "0.25 m", "12 mm"]) expect(textOf(input(typed), entryOf(input(typed)))).toBe(typed);
  });
});

test.describe("ticks of an axis", () => {
  for (const [low, high] of [
    [0, 1],
    [0, 97],
    [-3, 12],
    [0.002, 0.0031],
    [1000, 6000],
  ] as const) {
    test(`from ${low} to ${high} are few, even, round and inside`, () => {
      const at = ticks(low, high);
      expect(at.length).toBeGreaterThanOrEqual(3);
      expect(at.length).toBeLessThanOrEqual(6);
      expect(at[0]!).toBeGreaterThanOrEqual(low - 1e-9);
      expect(at.at(-1)!).toBeLessThanOrEqual(high * (1 + 1e-9));
      const step = at[1]! - at[0]!;
      at.slice(1).forEach((v, i) => expect(v - at[i]!).toBeCloseTo(step, 9));
      const mantissa = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
      expect([1, 2, 2.5, 5].some((k) => Math.abs(k - mantissa) < 1e-6)).toBe(true);
    });
  }

  test("are there when there is no span", () => {
    expect(ticks(5, 5).length).toBeGreaterThan(0);
  });
});

test.describe("answers about a case", () => {
  const known = (rev: number, weighed: boolean, weight: number) =>
    ({ id: "c", rev, weighed, trail: [{ id: "r1", weight, hangsOn: true }] }) as unknown as Case;

  test("an older one never replaces what is shown", () => {
    const shown = known(5, true, 3);
    expect(newer(shown, known(4, true, 9))).toBe(shown);
    expect(newer(shown, known(6, true, 9)).trail[0]!.weight).toBe(9);
    expect(newer(undefined, known(1, true, 9)).rev).toBe(1);
  });

  test("one without weights keeps those that are known; a new reading has none", () => {
    const now = { ...known(6, false, 0), trail: [{ id: "r1" }, { id: "r2" }] } as unknown as Case;
    const merged = newer(known(5, true, 3), now);
    expect(merged.trail[0]).toMatchObject({ weight: 3, hangsOn: true });
    expect(merged.trail[1]!.weight).toBeNaN();
  });
});

test.describe("news of a case", () => {
  const ranking = (rev: number, weight = 1) => ({ rev, weighed: true, trail: [{ id: "r1", weight }] }) as unknown as Schemas["Ranking"];
  const head = { id: "c", bay: "2" } as Schemas["CaseHead"];
  const whole = wholeCase({ id: "c", rev: 4, head, ranking: ranking(4), proof: [], photos: [] } as unknown as Schemas["Case"]);

  test("puts in place what it has, and leaves the rest", () => {
    const moved = withNews(whole, { rev: 5, before: 4, head: { ...head, bay: "3" } })!;
    expect(moved).toMatchObject({ rev: 5, bay: "3", proof: [] });
    expect(moved.trail).toEqual(whole.trail);
    expect(withNews(whole, { rev: 5, before: 4, ranking: ranking(5, 7) })!.trail[0]!.weight).toBe(7);
  });

  test("asks for the whole when somebody else was in between, and passes over what is old", () => {
    expect(withNews(whole, { rev: 6, before: 5, head })).toBeUndefined();
    expect(withNews(undefined, { rev: 5, before: 4, head })).toBeUndefined();
    expect(withNews(whole, { rev: 4, before: 3, head: { ...head, bay: "9" } })).toBe(whole);
  });

  test("is everything when the same was sent before", () => {
    expect(withNews(undefined, { rev: 5, before: 0, head, ranking: ranking(5) })).toMatchObject({ rev: 5, bay: "2" });
  });

  test("an exact ranking counts for the readings that it is of", () => {
    expect(withRanking(whole, ranking(4, 9))!.trail[0]!.weight).toBe(9);
    expect(withRanking(whole, ranking(3, 9))).toBe(whole);
  });
});

test.describe("keys of what is done", () => {
  test("the same thing keeps its key until it is answered; another one gets another", () => {
    const first = keyOf("a place", { bay: "4" });
    expect(keyOf("a place", { bay: "4" })).toBe(first);
    expect(keyOf("another place", { bay: "4" })).not.toBe(first);
    const other = keyOf("a place", { bay: "5" });
    expect(other).not.toBe(first);
    answered("a place", first); // too late: it is no longer the one that is open
    expect(keyOf("a place", { bay: "5" })).toBe(other);
    answered("a place", other);
    expect(keyOf("a place", { bay: "5" })).not.toBe(other);
  });
});

test.describe("a chain", () => {
  const node = (id: string, depth: number) => ({ id, depth, title: id }) as Schemas["ChainNode"];
  const link = (from: number, to: number) => ({ from, to }) as Schemas["ChainLink"];

  test("runs from left to right, and no two boxes lie on each other", () => {
    const nodes = [node("root", 0), node("seal", 1), node("fluid", 1), node("slip", 2), node("flare", 3), node("dark", 2)];
    const { placed, box, width, height } = chainLayout(nodes, [link(0, 1), link(0, 2), link(1, 3), link(3, 4), link(2, 5)]);
    expect(placed.map((p) => p.node.id)).toEqual(nodes.map((n) => n.id));
    for (const [i, a] of placed.entries()) {
      expect(a.x).toBeGreaterThanOrEqual(0);
      expect(a.x + box.width).toBeLessThanOrEqual(width);
      expect(a.y).toBeGreaterThanOrEqual(0);
      expect(a.y + box.height).toBeLessThanOrEqual(height);
      for (const b of placed.slice(i + 1)) expect(Math.abs(a.x - b.x) >= box.width || Math.abs(a.y - b.y) >= box.height).toBe(true);
    }
    const at = Object.fromEntries(placed.map((p) => [p.node.id, p]));
    expect(at.root!.x).toBeLessThan(at.seal!.x);
    expect(at.slip!.x).toBeLessThan(at.flare!.x);
    expect(at.slip!.y < at.dark!.y).toBe(at.seal!.y < at.fluid!.y); // children stand beside their parents: no crossing
  });

  test("of one box is that box", () => {
    const { placed, box, width, height } = chainLayout([node("root", 0)], []);
    expect({ x: placed[0]!.x, y: placed[0]!.y, width, height }).toEqual({ x: 0, y: 0, ...box });
  });
});
