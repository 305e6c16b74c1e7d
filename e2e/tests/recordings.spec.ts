import FFT from "fft.js";
import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test, type APIRequestContext, type Page } from "./app";
import { caseId, caseOf } from "./server";
import { drive, table, van, wave } from "./waves";

// What the browser's fake microphone plays: a steady tone of 440 Hz.
const heard = join(tmpdir(), "compass-fake-microphone.wav");
writeFileSync(
  heard,
  wave(
    Array.from({ length: 48_000 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 440 * i) / 48_000)),
    48_000,
  ),
);
test.use({
  permissions: ["microphone", "accelerometer", "gyroscope"],
  launchOptions: {
    executablePath: "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--use-fake-device-for-media-stream",
      "--use-fake-ui-for-media-stream",
      `--use-file-for-fake-audio-capture=${heard}`,
    ],
  },
});

const bring = (page: Page, name: string, text: string | Buffer) =>
  page.locator("input[type=file]").setInputFiles({ name, mimeType: "application/octet-stream", buffer: Buffer.from(text) });

/** Brings a recording in as a program would, and gives its id. */
async function brought(request: APIRequestContext, query: string, body: string | Buffer): Promise<string> {
  const answer = await request.post(`/api/recordings?${query}`, {
    data: Buffer.from(body),
    headers: { "Content-Type": "application/octet-stream" },
  });
  expect(answer.status()).toBe(201);
  return ((await answer.json()) as { id: string }).id;
}

test("a logged drive is brought in, looked at, heard, and goes into its case", async ({ page, request }) => {
  const id = await caseId(request, "Fire tender");
  await page.goto(`/recordings?case=${id}`);
  await bring(page, "drive.csv", table(2));
  await expect(page.getByRole("heading", { name: "drive", exact: true })).toBeVisible();
  await page.getByLabel("Range driven").selectOption({ label: "Drive sixth" });
  // A mark at the cursor, set by key.
  await page.getByRole("button", { name: "All", exact: true }).focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.getByLabel("Note for the mark").fill("pulls away here");
  await page.getByRole("button", { name: /^Mark/ }).click();
  await expect(page.getByRole("region", { name: "Marks" })).toContainText("pulls away here");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Table/ }).click();
  await expect(page.getByRole("table", { name: "What is shown, as a table" }).getByRole("row")).toHaveCount(41);
  // What turns: first the vehicle has to be known.
  await page.getByRole("link", { name: "What turns" }).click();
  await expect(page.getByText("axle ratio and tire are not known")).toBeVisible();
  await page.getByText("What surrounds the unit").click();
  await page.getByLabel("Cylinders").fill("4");
  await page.getByLabel(/^Axle ratio/).fill("3.7");
  await page.getByLabel(/^Rolls per turn/).fill("2100");
  await page.getByLabel("Driveshaft").selectOption({ label: "two pieces, center bearing" });
  await page.getByLabel(/^Joints/).selectOption({ label: "cross joints" });
  await page.getByRole("button", { name: "Keep it with the vehicle" }).click();
  await expect(page.getByRole("region", { name: "What it could be" })).toContainText("Joints of the driveshaft");
  await expect(page.getByRole("region", { name: "Drives that part the two leaders" })).toContainText("Same road speed in");
  await page.getByRole("button", { name: "Put it into the case" }).click();
  await expect(page.getByText(/In the case: twice per turn/)).toBeVisible();
  const now = await caseOf(request, id);
  expect(now.trail.some((t) => t.finding === "shakes-per-turn")).toBe(true);
  expect(now.photos).toHaveLength(1);
  // The vehicle's sheet stays: a second drive needs nothing more.
  const sheet = (await (await request.get(`/api/vehicle-sheets?vehicle=fire%20tender`)).json()) as { vehicle: typeof van };
  expect(sheet.vehicle.axle).toBe(3.7);
});

test("a file that cannot be read says where, and nothing of it stays", async ({ page, request }) => {
  await page.goto("/recordings");
  await bring(page, "broken.csv", "Time,A\n0,1\n1,2\n2,oops\n3,4\n");
  await expect(page.getByRole("alert")).toContainText('row 4, byte 15: A: "oops" is no number');
  await expect(page.getByRole("alert")).toContainText("Accepted: a number");
  const all = (await (await request.get("/api/recordings")).json()) as { title: string }[];
  expect(all.some((r) => r.title === "broken")).toBe(false);
});

test("the map answers to keys, and says what is near the point", async ({ page, request }) => {
  const all = (await (await request.get("/api/recordings")).json()) as { id: string; title: string }[];
  const sixth = all.find((r) => r.title.includes("sixth"))!;
  await page.goto(`/recordings/${sixth.id}/turns`);
  const map = page.getByRole("img", { name: /What was heard by speed and frequency/ });
  await expect(map).toBeVisible();
  await expect(page.getByText(/^Order 2\.0\d* of the output/)).toBeVisible();
  await map.focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press("ArrowDown");
  await expect(page.getByText(/^Order 1\.\d* of the output/)).toBeVisible();
  // The other ridge, and with a second drive one leader.
  await page.getByRole("group", { name: "Ridges" }).getByRole("button", { name: "1.3" }).first().click();
  await expect(page.getByRole("region", { name: "What it could be" })).toContainText(/firing/i);
  await page.getByLabel("Weigh with another drive").selectOption({ label: "Drive fourth: The same road in fourth" });
  await expect(page.getByText(/Weighed with The same road in fourth/)).toBeVisible();
});

test("sound is made here, with its level, and heard at its frequency", async ({ page, request }) => {
  await page.goto("/recordings/new");
  await page.getByLabel("Vehicle", { exact: true }).fill("Mail van 2");
  await page.getByLabel("Where it is held").fill("dash");
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(page.getByText(/samples a second/)).toBeVisible();
  await expect.poll(async () => Number(await page.getByRole("meter").getAttribute("aria-valuenow"))).toBeGreaterThan(30);
  await expect(page.getByText(/^[4-9](\.\d)? s$/)).toBeVisible();
  await page.getByRole("button", { name: "Stop and keep" }).click();
  await expect(page.getByRole("heading", { name: "Sound, dash" })).toBeVisible();
  const id = page.url().split("/").pop()!;
  const s = (await (await request.get(`/api/recordings/${id}/spectrum?top=1000`)).json()) as { peaks: { hertz: number }[] };
  expect(Math.abs(s.peaks[0]!.hertz - 440)).toBeLessThan(1);
  const rec = (await (await request.get(`/api/recordings/${id}`)).json()) as { made: string; channels: { role: string; from: string }[] };
  expect(rec.made).toContain("Made here");
  expect(rec.channels[0]).toMatchObject({ role: "sound", from: "dash" });
});

test("shaking is made here, each sample with the time of the device", async ({ page }) => {
  await page.goto("/recordings/new");
  await page.getByRole("radio", { name: /^Shaking/ }).click();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await page.evaluate(
    () =>
      new Promise<void>((done) => {
        let n = 0;
        const timer = setInterval(() => {
          const t = performance.now() / 1000;
          window.dispatchEvent(
            new DeviceMotionEvent("devicemotion", { accelerationIncludingGravity: { x: Math.sin(2 * Math.PI * 5 * t), y: 0, z: 9.81 } }),
          );
          if (++n > 150) {
            clearInterval(timer);
            done();
          }
        }, 10);
      }),
  );
  await page.getByRole("button", { name: "Stop and keep" }).click();
  await expect(page.getByRole("heading", { name: "Shaking", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "X", exact: true })).toBeVisible();
});

// An FFT of somebody else's (fft.js) against the spectrum of the API: the same samples, a Hann window of the same length, mean of the blocks.
test("the spectrum is that of another FFT", async ({ request }) => {
  const rate = 1024;
  const n = 2048; // two seconds, as the API takes them
  const samples = Array.from(
    { length: 16 * rate },
    (_, i) => 0.3 * Math.sin((2 * Math.PI * 100.25 * i) / rate) + 0.1 * Math.sin((2 * Math.PI * 211 * i) / rate),
  );
  const file = wave(samples, rate);
  const id = await brought(request, "file=tones.wav", file);
  const got = (await (await request.get(`/api/recordings/${id}/spectrum?top=400`)).json()) as { step: number; amplitude: number[] };
  expect(got.step).toBeCloseTo(rate / n, 9);
  const kept = Array.from({ length: samples.length }, (_, i) => file.readInt16LE(44 + 2 * i) / 32768);
  const fft = new FFT(n);
  const sum = new Array<number>(n / 2).fill(0);
  let blocks = 0;
  for (let at = 0; at + n <= kept.length; at += n / 2) {
    const block = kept.slice(at, at + n);
    const mean = block.reduce((a, b) => a + b, 0) / n;
    const out = fft.createComplexArray();
    fft.realTransform(
      out,
      block.map((v, i) => (v - mean) * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n))),
    );
    for (let k = 0; k < n / 2; k++) sum[k]! += (out[2 * k]! ** 2 + out[2 * k + 1]! ** 2) * (2 / (0.5 * n)) ** 2;
    blocks++;
  }
  for (const hz of [50, 100, 100.5, 211, 300]) {
    const k = Math.round(hz / got.step);
    expect(got.amplitude[k]!).toBeCloseTo(Math.sqrt(sum[k]! / blocks), 6);
  }
});

test("two recordings of one drive are joined by their clap", async ({ request }) => {
  const d = drive(2);
  const clap = (x: number[], at: number, rate: number) =>
    x.map((v, i) => v * 0.05 + (i >= at * rate && i < at * rate + 40 ? 0.9 * Math.cos(i) : 0));
  const sound = await brought(request, "file=sound.wav&unit=ombrin-s6&vehicle=Van&range=D6", wave(clap(d.x, 3, 500), 500));
  const rows = d.at.map((t, i) => `${(t + 4).toFixed(3)},${d.kmh[i]!.toFixed(1)},${i >= 1500 && i < 1520 ? 60 : d.x[i]!.toFixed(3)}`);
  // The logger began four seconds earlier: it stood.
  const before = Array.from({ length: 2000 }, (_, i) => `${(i / 500).toFixed(3)},${d.kmh[0]!.toFixed(1)},0.1`);
  const log = await brought(request, "file=log.csv", `Time (s),Vehicle speed (km/h),Floor (m/s²)\n${[...before, ...rows].join("\n")}\n`);
  const joined = await request.put(`/api/recordings/${sound}/joined`, { data: { revision: 1, with: log } });
  expect(joined.ok()).toBe(true);
  const r = (await joined.json()) as { joined: { offset: number } };
  expect(Math.abs(r.joined.offset - 4)).toBeLessThan(0.05);
  await request.put("/api/vehicle-sheets", { data: { vehicle: "Van", sheet: { vehicle: van, revision: 0 } } });
  const o = (await (await request.get(`/api/recordings/${sound}/orders`)).json()) as { ridges: { order: number }[] };
  expect(Math.abs(o.ridges[0]!.order - 2)).toBeLessThan(0.05);
});
