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

/** Alone and from a case, light and dark, metric and imperial: what is typed stands behind the name. */
const instruments: [string, "light" | "dark", "metric" | "imperial", Record<string, string>][] = [
  ["/instruments/plate-capacity?unit=norrad-h4&part=DC", "light", "metric", {}],
  ["/instruments/window?case=ID&part=end-play", "light", "metric", { Value: "0.74" }],
  ["/instruments/stack-clearance?unit=norrad-h4&part=DC", "light", "imperial", { "Piston face to snap ring": "0.802", "Lined plate, thickness": "0.075", "Steel plate, thickness": "0.071", "Backing plate": "0.157" }],
  ["/instruments/line-curve?unit=norrad-h4", "dark", "metric", {}],
  ["/instruments/runout", "dark", "metric", { "Readings at equal steps round one turn": "0; 0.03; 0.08; 0.11; 0.12; 0.10; 0.05; 0.01" }],
  ["/instruments/shift-energy", "dark", "imperial", {}],
  [
    "/instruments/governor?unit=norrad-v3",
    "light",
    "metric",
    { "Road speeds": "30; 50; 70", "Pressure at each, going up": "13; 21; 29", "and coming down": "19; 27; 30" },
  ],
  ["/instruments?case=ID", "dark", "metric", {}],
  ["/instruments/bolt-circle", "light", "metric", {}],
  ["/instruments/torque-lubricant", "light", "imperial", {}],
];

test("one picture of the instruments", async ({ browser, request }) => {
  test.setTimeout(120_000);
  const id = await caseId(request, "minibus");
  type Shop = Record<string, unknown> & { rev: number; people?: unknown };
  const shop = async () => (await (await request.get("/api/settings")).json()) as Shop;
  const use = async (length: string, torque: string, temperature: string) => {
    const { people: _, ...now } = await shop();
    await request.put("/api/settings", { data: { ...now, length, torque, temperature } });
  };
  const pictures: string[] = [];
  for (const [path, theme, system, typed] of instruments) {
    await (system === "metric" ? use("mm", "N·m", "°C") : use("in", "lbf·ft", "°F"));
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id), { waitUntil: "load" });
    await page.waitForTimeout(700);
    for (const [label, value] of Object.entries(typed)) await page.getByLabel(label, { exact: true }).fill(value);
    await page.waitForTimeout(600);
    pictures.push((await page.screenshot()).toString("base64"));
    await context.close();
  }
  await use("mm", "N·m", "°C");
  const sheet = await browser.newPage({ viewport: { width: 1600, height: 2000 } });
  await sheet.setContent(
    `<body style="margin:0;display:grid;grid-template-columns:1fr 1fr;gap:8px;background:#888">${pictures.map((p) => `<img style="width:100%" src="data:image/png;base64,${p}">`).join("")}</body>`,
  );
  await sheet.screenshot({ path: "../docs/screenshots/instruments.png", fullPage: true });
  await sheet.close();
});
