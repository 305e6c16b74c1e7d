import { test } from "@playwright/test";
import { caseId } from "./server";

// Not a test of anything: keeps docs/screenshots current. Runs with `make screenshots` only.
test.skip(!process.env.SCREENSHOTS, "make screenshots");

const shots: [string, string, string, number, number][] = [
  ["floor-light", "/", "light", 1280, 800],
  ["floor-dark", "/", "dark", 1280, 800],
  ["case-complaint", "/cases/ID/complaint", "light", 1280, 800],
  ["case-road", "/cases/ID/road", "light", 1280, 800],
  ["case-checks", "/cases/ID/checks", "light", 1280, 800],
  ["case-pressure-dark", "/cases/ID/checks?check=line-pressure", "dark", 1280, 800],
  ["case-decision", "/cases/ID/decision", "light", 1280, 800],
  ["case-proof", "/cases/ID/proof", "light", 1280, 800],
  ["case-tablet", "/cases/ID/road", "light", 820, 1180],
  ["unit-power", "/units/norrad-h4/gears", "light", 1280, 800],
  ["unit-faults-t10", "/units/vantrice-t10/faults?fault=leaks:drum-rings&fault=leaks:drum-bushing", "light", 1280, 800],
  ["unit-controls-e4t", "/units/tessaly-e4t/controls", "light", 1280, 800],
  ["unit-oil-dark", "/units/norrad-h4/oil", "dark", 1280, 800],
  ["unit-side-p5", "/units/tessaly-p5/side", "light", 1280, 800],
  ["road-t10", "/cases/TAXI/road", "light", 1280, 1000],
  ["unit-sheet", "/units/new?from=vantrice-a6", "light", 1280, 800],
  ["settings", "/settings", "light", 1280, 800],
];

const pressures = { P: 58, R: 74, N: 60, D1: 59, D2: 58, D3: 41, D4: 44, M2: 66, M1: 75 };

test("screenshots for the documents", async ({ browser, request }) => {
  const id = await caseId(request, "minibus");
  const taxi = await caseId(request, "Taxi");
  for (const [name, path, theme, width, height] of shots) {
    const context = await browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id).replace("TAXI", taxi), { waitUntil: "load" });
    await page.waitForTimeout(800);
    if (name.includes("pressure")) {
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
