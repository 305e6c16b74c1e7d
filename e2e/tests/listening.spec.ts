import { expect, test } from "./app";
import { caseId, caseOf } from "./server";

test("what is loud where and when names the source, by press and by word, and goes into the case", async ({ page, request }) => {
  const id = await caseId(request, "Estate");
  await page.goto(`/instruments/listening-map?case=${id}&part=G3`);
  const place = (name: string) => page.getByRole("radiogroup", { name: new RegExp(`${name}$`) });
  await place("front of the unit").getByRole("radio", { name: "loud" }).click();
  await place("bell housing").getByRole("radio", { name: "faint" }).click();
  await page.getByRole("radio", { name: /^standing in N, pedal down/ }).click();
  await expect(page.getByText(/Wheels chocked, parking brake on; hands/)).toBeVisible(); // the caution of the state
  await place("front of the unit").getByRole("radio", { name: "nothing" }).click();
  await expect(page.getByText(/the input bearing/).first()).toBeVisible();
  await expect(page.getByText(/^Listen next at the/)).toBeVisible();
  await expect(page.getByRole("link", { name: "Input shaft or lay shaft bearing worn" })).toBeVisible();
  // The states say how many places were listened to.
  await expect(page.getByRole("radio", { name: "standing in N, pedal up · 2" })).toBeVisible();
  await page.getByRole("button", { name: /Put into case/ }).click();
  await expect(page.getByText("Kept in the case.")).toBeVisible();
  expect((await caseOf(request, id)).trail.some((t) => t.finding === "noise-place")).toBe(true);
});

test("trials without a recording: the next one is the one that tells most in a minute", async ({ page }) => {
  await page.goto("/instruments/by-ear?unit=ombrin-m5");
  await expect(page.getByText(/^Next: “It (whines|shakes)/)).toBeVisible();
  await page.getByLabel(/^It whines/).selectOption({ label: "yes" });
  await page.getByLabel(/^It is there standing/).selectOption({ label: "yes" });
  await page.getByLabel(/^It is quieter with the foot off/).selectOption({ label: "no" });
  await expect(page.getByText("Most likely: oil pump.")).toBeVisible();
  await expect(page.getByText(/converter opens/).first()).toBeVisible(); // still a trial, but not the next without a converter
  await expect(page.getByText(/^Next: “It moves when the converter/)).toHaveCount(0);
});

test("a recorded drive: the axis is chosen, a ray hidden, the table has the same", async ({ page, request }) => {
  const all = (await (await request.get("/api/recordings")).json()) as { id: string; title: string }[];
  await page.goto(`/recordings/${all.find((r) => r.title.includes("sixth"))!.id}/turns`);
  await expect(page.getByText("km/h, in Drive sixth")).toBeVisible();
  await page.getByRole("radio", { name: "engine speed" }).click();
  await expect(page.getByText("rpm of the engine, in Drive sixth")).toBeVisible();
  await page.locator("svg[data-orders] text").filter({ hasText: "wheel and tire" }).first().click();
  await page.getByRole("button", { name: "Show 1 hidden" }).click();
  await page.getByRole("button", { name: /^Table/ }).click();
  await expect(page.getByRole("table", { name: "Sources and where they stand" })).toContainText("joints of the driveshaft");
});
