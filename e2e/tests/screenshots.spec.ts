import { test } from "@playwright/test";
import { caseId } from "./server";

// Not a test of anything: keeps docs/screenshots current. Runs with `make screenshots` only.
test.skip(!process.env.SCREENSHOTS, "make screenshots");

const shots: [string, string, string, number, number][] = [
  ["floor-light", "/", "light", 1280, 800],
  ...["complaint", "road", "checks", "decision", "proof"].flatMap((stage) =>
    ["light", "dark"].map((theme): [string, string, string, number, number] => [`case-${stage}-${theme}`, `/cases/ID/${stage}`, theme, 1280, 800]),
  ),
  ["case-chain", "/cases/WATER/checks?why=water-entry", "light", 1280, 1000],
  ["case-what-if-dark", "/cases/ID/checks?whatif=FLARE", "dark", 1280, 800],
  ["case-tablet", "/cases/ID/checks?check=line-pressure", "light", 820, 1180],
  ["knowledge", "/knowledge/norrad-h4/damage/lip-hard.DC?q=direct+clutch", "light", 1280, 800],
  ["unit-power", "/units/norrad-h4/gears", "light", 1280, 800],
  ["unit-faults-t10", "/units/vantrice-t10/faults?fault=leaks:drum-rings&fault=leaks:drum-bushing", "light", 1280, 800],
  ["unit-oil-dark", "/units/norrad-h4/oil", "dark", 1280, 800],
  ["unit-sheet", "/units/new?from=vantrice-a6", "light", 1280, 800],
];

const pressures = { P: 58, R: 74, N: 60, D1: 59, D2: 58, D3: 41, D4: 44, M2: 66, M1: 75 };

test("screenshots for the documents", async ({ browser, request }) => {
  const id = await caseId(request, "minibus");
  const water = await caseId(request, "Fire tender");
  const minibus = (await (await request.get(`/api/cases/${id}`)).json()) as { trail: { id: string; finding: string; source: string }[] };
  const flare = minibus.trail.find((t) => t.finding === "road.hot.D3.shift" && t.source === "seen")?.id ?? "";
  for (const [name, path, theme, width, height] of shots) {
    const context = await browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id).replace("WATER", water).replace("FLARE", flare), { waitUntil: "load" });
    await page.waitForTimeout(800);
    if (name === "case-tablet") {
      await page.getByRole("button", { name: /Read; show/ }).click();
      for (const [range, value] of Object.entries(pressures))
        await page.getByRole("textbox", { name: new RegExp(`^${range},`) }).fill(String(value));
      await page.waitForTimeout(600);
    }
    if (name === "unit-sheet") {
      const text = page.getByLabel("Text of the sheet");
      await text.fill((await text.inputValue()).replace("teeth_b: 45}", "teeth_b: 450}").replace("40..55 bar", "55..40 bar"));
      await page.getByRole("button", { name: /^Line/ }).first().click();
      await page.waitForTimeout(900);
    }
    await page.screenshot({ path: `../docs/screenshots/${name}.png` });
    await context.close();
  }
});
