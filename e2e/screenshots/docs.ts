import { test, type APIRequestContext, type Browser, type Page } from "../tests/app";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { News } from "../../web/src/api/caseParts";
import { caseId, loaded, changeSettings, start, stop } from "../tests/server";

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
  ["knowledge", "/knowledge/norrad-h4/damage/lip-hard.DC?q=direct+clutch", "light", 1280, 800],
  ["unit-power", "/units/norrad-h4/gears", "light", 1280, 800],
];

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
  const mail = await asked(request);
  for (const [name, path, theme, width, height] of shots) {
    const context = await browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path.replace("ID", id).replace("MAIL", mail), { waitUntil: "load" });
    await loaded(page);
    await page.waitForTimeout(800);
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
  const pdf = await (await request.get(`/api/cases/${id}/records/${record.id}/pdf`)).body();
  const sheet = await (await request.get(`/api/cases/${id}/job/sheet`)).body();
  await joined(browser, "papers", [...pagesOf(pdf), ...pagesOf(sheet)], 3);
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
  await joined(browser, name, pictures, 2);
}

test("one picture: instruments", async ({ browser, request }) => {
  await contactSheet(browser, request, instruments, "instruments");
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

/** The unit on the bench: half apart, in building; three units whole and exploded with their valve bodies; the week, a job, its sheet. */
test("bench and job", async ({ browser, request }) => {
  test.setTimeout(120_000);
  const shot = async (name: string, path: string, theme: string, height: number, before?: (page: Page) => Promise<void>) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height } })).newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path, { waitUntil: "load" });
    await loaded(page);
    await page.waitForTimeout(900);
    await before?.(page);
    const picture = await page.screenshot(name ? { path: `../docs/screenshots/${name}.png` } : {});
    await page.context().close();
    return picture.toString("base64");
  };
  const van = await caseId(request, "Ice-cream van");
  const parcel = await caseId(request, "Parcel van");
  await shot("teardown", `/cases/${van}/teardown`, "light", 1240);
  await shot("building", `/cases/${parcel}/teardown`, "dark", 1000);
  await shot("week", "/week", "light", 800, (page) => page.getByRole("button", { name: /^Parcel van,/ }).click());
  await shot("job", `/cases/${await caseId(request, "minibus")}/job`, "light", 1000);
  const whole = (page: Page) => page.getByRole("radio", { name: "As built" }).click();
  const stacks = [
    await shot("", "/units/norrad-h4/stack", "light", 1000),
    await shot("", "/units/norrad-h4/stack", "light", 1000, whole),
    await shot("", "/units/tessaly-e4t/stack", "dark", 1000),
    await shot("", "/units/tessaly-e4t/stack", "dark", 1000, whole),
    await shot("", "/units/ombrin-m5/stack", "light", 1000),
    await shot("", "/units/ombrin-m5/stack", "light", 1000, whole),
  ];
  await joined(browser, "stacks", stacks, 2);
});

/** What was recorded: shifts of a drive, before and after, what turns, a vehicle live. */
test("recordings", async ({ browser, request }) => {
  test.setTimeout(120_000);
  const all = (await (await request.get("/api/recordings")).json()) as { id: string; title: string }[];
  const of = (part: string) => all.find((r) => r.title.includes(part))!.id;
  const shot = async (path: string, theme: string, before?: (page: Page) => Promise<void>) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
    await page.goto(path, { waitUntil: "load" });
    await loaded(page);
    await page.waitForTimeout(1200);
    await before?.(page);
    const picture = await page.screenshot();
    await page.context().close();
    return picture.toString("base64");
  };
  const sound = of("clutch E done");
  const pictures = [
    await shot(`/recordings/${of("Late into")}/shifts?sound=${sound}`, "light"),
    await shot(`/recordings/${of("Late into")}/shifts?sound=${sound}&with=${sound}`, "light", async (page) => {
      await page.getByRole("region", { name: "Before and after" }).evaluate((e) => e.scrollIntoView({ block: "end" }));
      await page.waitForTimeout(900);
    }),
    await shot(`/recordings/${of("sixth")}/turns`, "dark"),
    await shot("/live", "dark", async (page) => {
      await page.getByRole("button", { name: "Connect", exact: true }).click();
      await page.getByRole("radio", { name: "D", exact: true }).click();
      await page.getByLabel("Brake", { exact: true }).fill("0");
      await page.getByLabel("Throttle", { exact: true }).fill("0.4");
      await page.waitForTimeout(11_000);
    }),
  ];
  await request.delete("/api/live");
  await joined(browser, "recordings", pictures, 2);
});

/** What a shop trusts: who is here, a PIN, people and devices, notes that wait, backups, the trail; a shop of its own, with the demo in it. */
test("trust", async ({ browser }) => {
  test.setTimeout(180_000);
  const server = await start(["demo", "--addr", "127.0.0.1:0"]);
  const disk = mkdtempSync(join(tmpdir(), "compass-backup-"));
  try {
    const base = `http://localhost:${server.port}`;
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const pictures: string[] = [];
    const shot = async () => {
      await page.waitForTimeout(700);
      pictures.push((await page.screenshot()).toString("base64"));
    };
    await page.goto(`${base}/people`);
    await page.getByLabel("Owner’s name").fill("Oda");
    await page.getByLabel("Owner’s passphrase").fill("seventeen wet gaskets");
    await page.getByRole("button", { name: "Set people up" }).click();
    await page.getByRole("textbox", { name: /PIN/ }).fill("274916");
    await page.getByRole("button", { name: "Set a PIN" }).click();
    await page.getByRole("button", { name: "Give it up" }).waitFor();
    await page.getByRole("button", { name: "Change Tobin" }).click();
    await page.getByRole("button", { name: "Admit another device" }).click();
    await shot();
    await page.goto(`${base}/backup`);
    await page.getByLabel(/^Folder/).fill(disk);
    await page.getByLabel(/^Passphrase/).fill("seventeen wet gaskets");
    await page.getByRole("button", { name: "Save the plan" }).click();
    await page.getByRole("button", { name: "Back up now" }).click();
    await page.getByText(/✓ good, inner/).waitFor();
    await page.evaluate(() => scrollTo(0, 0));
    await shot();
    const found = (await (await page.request.get(`${base}/api/cases?q=taxi`)).json()) as { items: { id: string }[] };
    await page.goto(`${base}/cases/${found.items[0]!.id}/road`);
    await page.getByRole("button", { name: /^D4, drives/ }).waitFor();
    await context.setOffline(true);
    for (const cell of [/^D4, drives/, /^D5, drives/]) {
      await page.getByRole("button", { name: cell }).focus();
      await page.keyboard.press("Space");
    }
    await page.getByRole("button", { name: "Show", exact: true }).click();
    await shot();
    await context.setOffline(false);
    await page.getByRole("region", { name: "Waiting on this device" }).waitFor({ state: "detached" });
    await page.goto(`${base}/trail`);
    await shot();
    await page.getByRole("button", { name: /Oda is signed in/ }).click();
    await page.getByRole("heading", { name: "Who is here?" }).waitFor();
    await shot();
    await page.getByRole("button", { name: /^Oda/ }).click();
    await page.keyboard.type("274");
    await shot();
    await joined(browser, "trust", pictures, 2);
  } finally {
    await stop(server.child, "SIGTERM");
    rmSync(disk, { recursive: true, force: true });
  }
});

/** The pages of a PDF as pictures, by pdftoppm of Debian's poppler-utils. */
function pagesOf(pdf: Buffer): string[] {
  const folder = mkdtempSync(join(tmpdir(), "pages-"));
  writeFileSync(join(folder, "r.pdf"), pdf);
  execFileSync("pdftoppm", ["-r", "70", "-png", join(folder, "r.pdf"), join(folder, "r")]);
  return readdirSync(folder)
    .filter((f) => f.endsWith(".png"))
    .sort()
    .map((f) => readFileSync(join(folder, f)).toString("base64"));
}

/** Pictures side by side as one. */
async function joined(browser: Browser, name: string, pictures: string[], abreast: number) {
  const page = await browser.newPage({ viewport: { width: 1600, height: 560 } });
  await page.setContent(
    `<body style="margin:0;display:grid;grid-template-columns:repeat(${abreast},1fr);gap:8px;background:#888">${pictures.map((p) => `<img style="width:100%" src="data:image/png;base64,${p}">`).join("")}</body>`,
  );
  await page.screenshot({ path: `../docs/screenshots/${name}.png`, fullPage: true });
  await page.close();
}
