// usage: node shot.tmp.mjs theme w h name path [name path]...
import { chromium } from "@playwright/test";
const [theme, w, h, ...rest] = process.argv.slice(2);
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox","--disable-gpu","--disable-quic","--no-first-run","--disable-background-networking","--disable-component-update","--disable-sync"] });
const base = process.env.BASE ?? "http://127.0.0.1:8099";
for (let i = 0; i < rest.length; i += 2) {
  const c = await b.newContext({ viewport: { width: +w, height: +h } });
  const p = await c.newPage();
  await p.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
  await p.goto(base + rest[i + 1], { waitUntil: "load" });
  await p.waitForTimeout(1500);
  await p.screenshot({ path: `/tmp/shots/${rest[i]}.png`, fullPage: !!process.env.FULL });
  await c.close();
}
await b.close();
