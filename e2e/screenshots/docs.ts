import { test, type APIRequestContext, type Browser, type Page } from "../tests/app";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { News } from "../../web/src/api/caseParts";
import { caseId, loaded, changeSettings } from "../tests/server";

// Not a test of anything: keeps docs/screenshots current. A picture waits a moment, until drawings have come to rest.
const shots: [string, string, string, number, number][] = [
  ["floor-light", "/", "light", 1280, 800],
  ["case-complaint-light", "/cases/MAIL/complaint", "light", 1280, 800],
  ...["road", "checks"].map((stage): [string, string, string, number, number] => [
    `case-${stage}-light`,
    `/cases/ID/${stage}`,
    "light",
    1280,
    800,
  ]),
  ["case-chain", "/cases/WATER/checks?why=water-entry", "light", 1280, 1000],
  ["recording-tablet", "/recordings/SIXTH", "light", 820, 1180],
  ["turns-dark", "/recordings/SIXTH/turns", "dark", 1280, 800],
  ["listening", "/instruments/listening-map?unit=ombrin-m5&part=G3", "light", 1280, 800],
  ["knowledge", "/knowledge/norrad-h4/damage/lip-hard.DC?q=direct+clutch", "light", 1280, 800],
  ["unit-power", "/units/norrad-h4/gears", "light", 1280, 800],
  ["units-dark", "/units", "dark", 1280, 800],
  ["drive-phone", "/cases/ID/road?drive=1", "light", 390, 844],
];

/** What is heard for the picture of the listening map: in which state, at which place, how loud. */
const sounds = [
  ["standing in N, pedal up", "front of the unit", "loud"],
  ["standing in N, pedal up", "bell housing", "faint"],
  ["standing in N, pedal up", "middle of the case", "faint"],
  ["standing in N, pedal down", "front of the unit", "nothing"],
] as const;

/** The mail van as it comes in: its words taken, two questions answered. */
async function asked(request: APIRequestContext): Promise<string> {
  const words =
    "It slips pulling up the harbour hill and reverse takes ages to come in. There’s a puddle under the front of it. They put a new solenoid in last month, no different.";
  const made = (await (
    await request.post("/api/cases", { data: { words, vehicle: "Mail van 4", unit: "norrad-h4", distance: "203400 km", owner: "Ines" } })
  ).json()) as { id: string };
  await request.post(`/api/cases/${made.id}/words`, { data: { all: true } });
  for (let n = 0; n < 2; n++) {
    const { ask } = (await (await request.get(`/api/cases/${made.id}/interview`)).json()) as { ask?: { id: string; answers: string[] } };
    if (ask) await request.post(`/api/cases/${made.id}/interview`, { data: { question: ask.id, answer: ask.answers[0] } });
  }
  return made.id;
}

test("screenshots for the documents", async ({ browser, request }) => {
  const id = await caseId(request, "minibus");
  const water = await caseId(request, "Fire tender");
  const mail = await asked(request);
  const all = (await (await request.get("/api/recordings")).json()) as { id: string; title: string }[];
  const sixth = all.find((r) => r.title.includes("sixth"))!.id;
  for (const [name, path, theme, width, height] of shots) {
    const context = await browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id).replace("WATER", water).replace("MAIL", mail).replace("SIXTH", sixth), { waitUntil: "load" });
    await loaded(page);
    await page.waitForTimeout(800);
    if (name === "listening") {
      for (const [state, place, level] of sounds) {
        await page.getByRole("radio", { name: new RegExp(`^${state}`) }).click();
        await page
          .getByRole("radiogroup", { name: new RegExp(`${place}$`) })
          .getByRole("radio", { name: level })
          .click();
      }
      await page.mouse.wheel(0, 170);
      await page.mouse.move(2, 2);
      await page.waitForTimeout(800);
    }
    await page.screenshot({ path: `../docs/screenshots/${name}.png` });
    await context.close();
  }
});

const found = [
  ["pressure-pattern", "low-DC", "measured"],
  ["air-check.DC", "piston", "measured"],
  ["piston-seal.DC", "hard", "seen"],
  ["fluid-temperature", "usual", "measured"],
  ["pressure-rise", "rises", "measured"],
].map(([finding, state, source]) => ({ finding, state, source, by: "Ines" }));

test("decision, approval, record and proof", async ({ browser, request }) => {
  test.setTimeout(120_000);
  const id = await caseId(request, "minibus");
  const post = async (path: string, data: unknown) => (await (await request.post(`/api/cases/${id}/${path}`, { data })).json()) as News;
  await post("readings", { readings: found });
  await request.patch(`/api/cases/${id}`, { data: { access: "unit-apart", stage: "decision" } });
  const shot = async (name: string, path: string, theme: string, width: number, height: number, before?: (page: Page) => Promise<void>) => {
    const page = await (await browser.newContext({ viewport: { width, height } })).newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path, { waitUntil: "load" });
    await loaded(page);
    await page.waitForTimeout(900);
    await before?.(page);
    await page.screenshot({ path: `../docs/screenshots/${name}.png` });
    await page.context().close();
  };
  await shot("case-decision-light", `/cases/${id}/decision`, "light", 1280, 800);
  const token = (await post("estimates", { hours: 48, by: "Marit" })).estimates!.at(-1)!.token;
  await shot("approval", `/a/${token}`, "light", 390, 844);
  await post("decisions", {
    option: "pack.DC",
    choice: "accepted",
    how: "signed",
    name: "the school secretary",
    by: "Marit",
    signature: "M120 250L160 140L200 260L250 180L300 250L380 170L420 240L520 200",
    addOns: ["external-seals"],
  });
  for (const [item, note] of [
    ["limit.clearance-DC", "1.52 mm"],
    ["torque.0", ""],
    ["torque.1", ""],
    ["repeat.road.hot.D3.shift", "clean at every throttle"],
  ])
    await post("proof", { item, result: "pass", note, by: "Ines" });
  await shot("case-proof-light", `/cases/${id}/proof`, "light", 1280, 800);
  const record = (
    await post("records", {
      by: "Marit",
      work: "Direct clutch resealed, feed rings replaced, pan gasket and filter.",
      parts: "Shown and thrown away.",
    })
  ).records!.at(-1)!;
  const folder = mkdtempSync(join(tmpdir(), "record-"));
  writeFileSync(join(folder, "r.pdf"), await (await request.get(`/api/cases/${id}/records/${record.id}/pdf`)).body());
  execFileSync("pdftoppm", ["-r", "70", "-png", join(folder, "r.pdf"), join(folder, "r")]); // of Debian's poppler-utils
  const pages = readdirSync(folder)
    .filter((f) => f.endsWith(".png"))
    .sort();
  const sheet = await browser.newPage({ viewport: { width: 1200, height: 560 } });
  await sheet.setContent(
    `<body style="margin:0;display:flex;align-items:flex-start;gap:8px;background:#888">${pages.map((p) => `<img style="width:${100 / pages.length}%" src="data:image/png;base64,${readFileSync(join(folder, p)).toString("base64")}">`).join("")}</body>`,
  );
  await sheet.screenshot({ path: "../docs/screenshots/record.png", fullPage: true });
  await sheet.close();
});

/** Alone and from a case, light and dark, metric and imperial: what is typed stands behind the name. */
const instruments: [string, "light" | "dark", "metric" | "imperial", Record<string, string>][] = [
  ["/instruments/plate-capacity?unit=norrad-h4&part=DC", "light", "metric", {}],
  ["/instruments/window?case=ID&part=end-play", "light", "metric", { Value: "0.74" }],
  [
    "/instruments/stack-clearance?unit=norrad-h4&part=DC",
    "light",
    "imperial",
    {
      "Piston face to snap ring": "0.802",
      "Friction plate, thickness": "0.075",
      "Steel plate, thickness": "0.071",
      "Backing plate": "0.157",
    },
  ],
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

/** Many views as one picture, two abreast. */
async function contactSheet(browser: Browser, request: APIRequestContext, views: typeof instruments, name: string) {
  test.setTimeout(120_000);
  const id = await caseId(request, "minibus");
  const use = async (length: string, torque: string, temperature: string) => {
    await changeSettings(request, { length, torque, temperature });
  };
  const pictures: string[] = [];
  for (const [path, theme, system, typed] of views) {
    await (system === "metric" ? use("mm", "N·m", "°C") : use("in", "lbf·ft", "°F"));
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id), { waitUntil: "load" });
    await loaded(page);
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
  await sheet.screenshot({ path: `../docs/screenshots/${name}.png`, fullPage: true });
  await sheet.close();
}

/** Leak maps of three designs, level guides, look, tray, report and what water leaves to renew. */
const fluid: typeof instruments = [
  [
    "/instruments/leak-map?unit=norrad-h4&with.zone-selector-shaft=fresh&with.zone-case-left=wet&with.zone-rail=wet&with.zone-bell-under=dry",
    "light",
    "metric",
    {},
  ],
  ["/instruments/leak-map?unit=tessaly-f3&with.zone-bell-under=fresh&with.when-after=yes&with.when-standing=no", "dark", "metric", {}],
  ["/instruments/leak-map?unit=ombrin-m5&with.zone-bell-under=wet&with.zone-tail-end=fresh", "light", "metric", {}],
  [
    "/instruments/fluid-level?unit=norrad-h4",
    "light",
    "imperial",
    { "Height above the lower mark (below it: minus)": "-14 mm", "Fluid temperature when read": "20 °C" },
  ],
  ["/instruments/fluid-level?unit=ombrin-s6&with.comes=nothing&with.below=12+mm", "dark", "metric", {}],
  ["/instruments/fluid-look?with.look-dark=3&with.look-burnt=2&with.look-core=1&with.look-milky=0", "light", "metric", {}],
  ["/instruments/debris?with.kind-lining=much-pieces&with.kind-film=some-fine&with.magnet=film", "dark", "metric", {}],
  ["/instruments/fluid-report?with.iron=300&with.copper=160&with.lead=60&with.tin=25&with.water=0.02", "light", "metric", {}],
  ["/instruments/fluid-trend?with.distances=10000;20000;30000+km&with.values=35;90;180", "dark", "metric", {}],
  ["/instruments/fluid-spoilt?unit=ombrin-s6&with.driven=400+km", "light", "metric", {}],
];

for (const [name, views] of [
  ["instruments", instruments],
  ["fluid", fluid],
] as const)
  test(`one picture: ${name}`, async ({ browser, request }) => {
    await contactSheet(browser, request, views, name);
  });

/** A unit as it is built: the schemes, the chart with its gears, leak places, sources, a ratio that no teeth give, and a road test by the chart alone. */
test("builder", async ({ browser, request }) => {
  test.setTimeout(120_000);
  const pictures: string[] = [];
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  const shot = async () => {
    await page.waitForTimeout(900);
    pictures.push((await page.screenshot()).toString("base64"));
  };
  await page.goto("/units/build");
  await page.getByRole("button", { name: /one set, two suns/ }).waitFor();
  await shot();
  await page.getByRole("button", { name: /one set, two suns/ }).click();
  await page.getByLabel("Name of the unit").fill("Tessaly R4");
  for (const [row, ratio] of Object.entries({ R: "2.18", D1: "2.55", D2: "1.49", D3: "1.00", D4: "0.69" }))
    await page.getByLabel(`Ratio of ${row} as printed`).fill(ratio);
  await page.getByRole("button", { name: "D2, Drive second" }).click();
  await shot();
  const fold = page.getByText(/^Leak places: /);
  await fold.click();
  await page
    .getByRole("group", { name: "Leak places" })
    .getByRole("button", { name: /pan rail/ })
    .click();
  await fold.evaluate((e) => e.scrollIntoView());
  await shot();
  await fold.click();
  await page.getByText(/^Where each number is from/).click();
  await page.getByText(/^Line pressure: /).click();
  await page.getByLabel("Source of Reverse, at idle").selectOption("paper");
  await page.getByLabel("Where Reverse, at idle is from").fill("maker’s book, page 12");
  await page.keyboard.press("Tab");
  await page.getByText(/^Where each number is from/).evaluate((e) => e.scrollIntoView());
  await shot();
  await page.evaluate(() => window.scrollTo(0, 0));
  await page.getByLabel("Ratio of D4 as printed").fill("0.96");
  await page.getByText("This one may be misprinted").waitFor();
  await shot();
  const made = (await (
    await request.post("/api/cases", { data: { words: "It slips in second.", vehicle: "Bread van", unit: "any-automatic-4" } })
  ).json()) as { id: string };
  const readings = [
    ["D1.drives", "normal"],
    ["D2.slips", "yes"],
    ["D3.drives", "normal"],
  ].map(([cell, state]) => ({ finding: `road.hot.${cell}`, state, source: "seen" }));
  await request.post(`/api/cases/${made.id}/readings`, { data: { readings } });
  await page.goto(`/cases/${made.id}/road`);
  await loaded(page);
  await shot();
  await context.close();
  const sheet = await browser.newPage({ viewport: { width: 1600, height: 1514 } });
  await sheet.setContent(
    `<body style="margin:0;display:grid;grid-template-columns:1fr 1fr;gap:8px;background:#888">${pictures.map((p) => `<img style="width:100%" src="data:image/png;base64,${p}">`).join("")}</body>`,
  );
  await sheet.screenshot({ path: "../docs/screenshots/builder.png", fullPage: true });
  await sheet.close();
});
