import { chromium } from "@playwright/test";
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: process.env.DARK ? "dark" : "light" });
const base = "http://127.0.0.1:8099";
const cases = (await (await fetch(base + "/api/cases")).json()).items;
for (const c of cases) console.log(c.id, c.vehicle, c.unitName, c.stage, c.words);
const [,, which, path, out, scroll] = process.argv;
if (which) {
  const c = cases.find((c) => c.vehicle.includes(which) || c.words.includes(which) || c.unitName.includes(which));
  await p.goto(base + (c ? `/cases/${c.id}/${path}` : path));
  await p.waitForTimeout(2500);
  if (scroll) { await p.locator(scroll).first().scrollIntoViewIfNeeded(); await p.waitForTimeout(400); }
  await p.screenshot({ path: out, fullPage: process.env.FULL === "1" });
}
await b.close();
