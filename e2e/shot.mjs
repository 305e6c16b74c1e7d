import { chromium } from "@playwright/test";
const [base, out, path, script = "", size = "1280x800", scheme = "light"] = process.argv.slice(2);
const [w, h] = size.split("x").map(Number);
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
const p = await (await b.newContext({ viewport: { width: w, height: h }, colorScheme: scheme })).newPage();
await p.goto(base + path); await p.waitForTimeout(900);
if (script) await new Function("p", "return (async()=>{" + script + "})()")(p);
await p.waitForTimeout(900);
await p.screenshot({ path: out }); await b.close();
