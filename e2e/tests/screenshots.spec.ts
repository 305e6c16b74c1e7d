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
  ["unit-gears", "/units/norrad-h4", "light", 1280, 800],
  ["unit-faults", "/units/norrad-h4/faults", "light", 1280, 800],
  ["settings", "/settings", "light", 1280, 800],
];

const pressures = { P: 58, R: 74, N: 60, D1: 59, D2: 58, D3: 41, D4: 44, M2: 66, M1: 75 };

test("screenshots for the documents", async ({ browser, request }) => {
  const id = await caseId(request, "minibus");
  for (const [name, path, theme, width, height] of shots) {
    const context = await browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id), { waitUntil: "load" });
    await page.waitForTimeout(800);
    if (name.includes("pressure")) {
      await page.getByRole("button", { name: /Read; show/ }).click();
      for (const [range, value] of Object.entries(pressures))
        await page.getByRole("textbox", { name: new RegExp(`^${range},`) }).fill(String(value));
      await page.waitForTimeout(600);
    }
    await page.screenshot({ path: `../docs/screenshots/${name}.png` });
    await context.close();
  }
});
