import { expect, test, type APIRequestContext } from "./app";

async function take(request: APIRequestContext, vehicle: string, unit: string) {
  const made = await request.post("/api/cases", { data: { words: "it slips", vehicle, unit } });
  return ((await made.json()) as { id: string }).id;
}

test("a road test is driven cell by cell, with one thumb", async ({ page, request }) => {
  await page.setViewportSize({ width: 820, height: 1180 });
  const id = await take(request, "Driven van", "norrad-h4");
  await page.goto(`/cases/${id}/road`);
  await page.getByRole("button", { name: "Drive it cell by cell" }).click();
  const drive = page.getByRole("region", { name: "Drive" });
  await expect(drive.getByText("Before you drive:")).toBeVisible(); // the caution stands before the step
  await expect(drive.getByRole("heading", { name: "R · engages" })).toBeVisible();
  await expect(drive.getByText("Standing", { exact: true })).toBeVisible();
  await drive.getByRole("button", { name: /^normal/ }).click();
  await expect(drive.getByRole("heading", { name: "D1 · engages" })).toBeVisible();
  await drive.getByRole("button", { name: /^late/ }).click();
  await expect(drive.getByText(/2 of \d+ noted/)).toBeVisible();
  // Back shows what was noted, and another answer takes its place.
  await drive.getByRole("button", { name: /back/ }).click();
  await expect(drive.getByText("noted: late")).toBeVisible();
  await drive.getByRole("button", { name: /^harsh/ }).click();
  // What is left of a leg in one tap.
  await drive.getByRole("button", { name: /^The other \d+ of “standing” normal/ }).click();
  await expect(drive.getByText("Standing in neutral")).toBeVisible();
  await drive.getByRole("button", { name: /not driven, go on/ }).click();
  await expect(drive.getByRole("region", { name: "What each failure would do here" })).toContainText("%");
  // Either hand reaches the buttons.
  const width = page.viewportSize()!.width;
  const left = async () => (await drive.getByRole("group", { name: "What it does" }).boundingBox())!.x;
  expect(await left()).toBeGreaterThan(width / 2);
  await drive.getByRole("radio", { name: "left hand" }).click();
  expect(await left()).toBeLessThan(width / 4);
  await drive.getByRole("button", { name: "To the grid" }).click();
  await expect(page.getByRole("button", { name: "D1, engages: harsh" })).toBeVisible();
  await expect(page.getByRole("button", { name: "M1, engages: normal" })).toBeVisible();
});

test("a passenger calls out what it does, and nothing counts before it is noted", async ({ page, request }) => {
  const id = await take(request, "Called van", "norrad-h4");
  await page.goto(`/cases/${id}/road?drive=1`);
  const drive = page.getByRole("region", { name: "Drive" });
  const field = drive.getByRole("textbox", { name: "Call out" });
  await field.fill("third flares, fourth fine");
  await expect(drive.getByRole("status")).toContainText("Shift into D3, hot: flares");
  await field.fill("the radio crackles");
  await expect(drive.getByRole("status")).toContainText("Not understood: radio crackles");
  await expect(drive.getByRole("button", { name: /^Note/ })).toBeDisabled();
  await field.fill("third flares, fourth fine");
  await expect(drive.getByRole("button", { name: "Note 3" })).toBeEnabled();
  await field.press("Enter");
  await expect(drive.getByText(/3 of \d+ noted/)).toBeVisible();
  await expect(drive.getByRole("heading", { name: "R · engages" })).toBeVisible(); // nobody has said anything of it
});

test("the words of a browser that listens on this machine are read like typed ones", async ({ page, request }) => {
  // A stand-in for the browser's own recognition: it hears one sentence.
  await page.addInitScript(() => {
    class Ear extends EventTarget {
      static available = () => Promise.resolve("available");
      start() {
        setTimeout(() => {
          const results = [Object.assign([{ transcript: "third flares" }], { isFinal: true })];
          this.dispatchEvent(Object.assign(new Event("result"), { results, resultIndex: 0 }));
        }, 50);
      }
      stop() {
        this.dispatchEvent(new Event("end"));
      }
    }
    Object.assign(window, { SpeechRecognition: Ear });
  });
  const id = await take(request, "Heard van", "norrad-h4");
  await page.goto(`/cases/${id}/road?drive=1`);
  const drive = page.getByRole("region", { name: "Drive" });
  await drive.getByRole("button", { name: "Listen" }).click();
  await expect(drive.getByRole("textbox", { name: "Call out" })).toHaveValue("third flares");
  await expect(drive.getByRole("status")).toContainText("Shift into D3, hot: flares");
  await drive.getByRole("button", { name: "Stop listening" }).click();
  await expect(drive.getByRole("button", { name: "Listen", exact: true })).toBeVisible();
});

test("keys drive too, and all ranges of the ten-speed stand side by side", async ({ page, request }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  const id = await take(request, "Long van", "vantrice-t10");
  await page.goto(`/cases/${id}/road`);
  const grid = page.getByRole("table", { name: "Road test, hot" });
  await expect(grid).toBeVisible();
  expect(await grid.evaluate((t) => t.parentElement!.scrollWidth - t.parentElement!.clientWidth)).toBeLessThanOrEqual(0);
  await page.goto(`/cases/${id}/road?drive=1`);
  const drive = page.getByRole("region", { name: "Drive" });
  await expect(drive.getByRole("heading", { name: "R · engages" })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(drive.getByRole("heading", { name: "D1 · engages" })).toBeVisible();
  await page.keyboard.press("h");
  await page.keyboard.press("0");
  await page.keyboard.press("ArrowLeft");
  await expect(drive.getByText(/2 of \d+ noted/)).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "D1, engages: harsh" })).toBeVisible();
});
