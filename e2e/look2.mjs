import { chromium } from "@playwright/test";
// node look2.mjs <path or vehicle:stage> out.png [js]
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
const [w, h] = (process.env.SIZE ?? "1280x800").split("x").map(Number);
const base = process.env.BASE ?? "http://127.0.0.1:8099";
const p = await b.newPage({ viewport: { width: w, height: h }, colorScheme: process.env.DARK ? "dark" : "light" });
let [,, path, out, js] = process.argv;
const m = path.match(/^(.*?):(.*)$/);
if (m) {
  const cases = (await (await fetch(base + "/api/cases")).json()).items;
  const c = cases.find((c) => c.vehicle.includes(m[1]));
  path = `/cases/${c.id}/${m[2]}`;
}
await p.goto(base + path);
await p.waitForTimeout(2000);
if (js) { await eval(`(async()=>{${js}})()`); await p.waitForTimeout(700); }
await p.screenshot({ path: out, fullPage: process.env.FULL === "1" });
await b.close();
