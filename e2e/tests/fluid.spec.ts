import { expect, test } from "./app";
import { caseId } from "./server";

test("places are marked by touch and by keyboard; the source and its way are named", async ({ page }) => {
  await page.goto("/instruments/leak-map?unit=norrad-h4");
  const form = page.getByRole("form", { name: "Leak map" });
  await expect(form.getByText(/Mark what is wet/)).toBeVisible();
  // By touch: one press is dry, the second wet, the third fresh.
  const selector = form.locator('[data-zone="selector-shaft"]').first();
  for (let i = 0; i < 3; i++) await selector.click();
  await expect(selector).toHaveAttribute("data-state", "fresh");
  // By keyboard.
  for (const [zone, state] of [
    ["case, left side", "wet"],
    ["pan rail", "wet"],
    ["bell housing, underside", "dry"],
  ] as const) {
    await form
      .getByRole("radiogroup", { name: new RegExp(zone) })
      .getByRole("radio", { name: state })
      .focus();
    await page.keyboard.press("Enter");
  }
  await expect(form.getByText(/^It comes from the selector shaft/)).toBeVisible();
  await expect(form.getByText(/selector shaft, then .*pan rail/)).toBeVisible();
  await expect(form.getByText(/Next: /)).toBeVisible();
});

test("what the leak map says becomes readings of the case and moves its suspects", async ({ page, request }) => {
  const id = await caseId(request, "Forestry");
  await page.goto(`/instruments/leak-map?case=${id}`);
  const form = page.getByRole("form", { name: "Leak map" });
  const mark = async (zone: string, state: string) =>
    form
      .getByRole("radiogroup", { name: new RegExp(zone) })
      .getByRole("radio", { name: state })
      .click();
  await mark("selector shaft", "fresh");
  await mark("case, left side", "wet");
  await mark("pan rail", "wet");
  await mark("bell housing, underside", "dry");
  await form.getByRole("button", { name: /Put into case/ }).click();
  await expect(page.getByText("Kept in the case.")).toBeVisible();
  await page.getByRole("link", { name: "To the case" }).click();
  await expect(page.getByRole("complementary", { name: "Trail" }).getByText(/selector shaft leaks/)).toBeVisible();
  await expect(page.getByText("Selector shaft seal leaks").first()).toBeVisible();
  await page.goto(`/instruments/leak-map?case=${id}`);
  await page.getByRole("button", { name: "Take back" }).click();
  await expect(page.getByText("replaced or taken back")).toBeVisible();
});

test("the tray names the part, the stick says how much to add, a report what it points to", async ({ page }) => {
  await page.goto("/instruments/debris");
  await expect(page.getByText(/Mark what lies there/)).toBeVisible();
  await page.getByLabel("needles, rollers or pieces of them").selectOption("some-pieces");
  await page.getByLabel("fine gray paste").selectOption("much-fine");
  await expect(page.getByText(/^It is from: needle/)).toBeVisible();
  await page.goto("/instruments/fluid-level?unit=norrad-h4");
  await expect(page.getByRole("region", { name: "How it is read on this unit" }).getByRole("listitem")).toHaveCount(4);
  await page.getByLabel(/^Height above the lower mark/).fill("-14");
  await expect(page.getByText(/Low: add 0\.9 L \(1\.0 qt, 2\.0 pt\)/)).toBeVisible();
  await page.getByLabel("Fluid temperature when read", { exact: true }).fill("20");
  await expect(page.getByText(/Read at 20 °C, it stands at/)).toBeVisible();
  await page.goto("/instruments/fluid-report");
  await page.getByLabel("copper, ppm", { exact: true }).fill("160");
  await page.getByLabel("lead, ppm", { exact: true }).fill("60");
  await page.getByLabel("tin, ppm", { exact: true }).fill("25");
  await expect(page.getByText(/^It points to: bushings/)).toBeVisible();
  await page.getByLabel("tin, ppm", { exact: true }).fill("a lot");
  await expect(page.getByText(/not a number|no number/)).toBeVisible();
});

test("a laboratory's table is mapped once and remembered; a bad cell is named and nothing is read", async ({ page }) => {
  await page.goto("/instruments/fluid-report");
  await page.getByText("From a laboratory’s table").click();
  await page.getByLabel("Paste it").fill("No;Eisen;Pb;Cu;Sn\nA;42;5;20;2\nB;50;60;much;25\n");
  await page.getByRole("button", { name: "Read it", exact: true }).click();
  const table = page.getByRole("region", { name: "Laboratory’s table" });
  await expect(table.getByRole("alert")).toContainText('Row 2, Cu: "much" is not a number');
  await expect(table.getByRole("button", { name: /^Use/ })).toHaveCount(0);
  await page.getByLabel("Paste it").fill("No;Eisen;Pb;Cu;Sn\nA;42;5;20;2\nB;50;60;160,5;25\n");
  await expect(table).toHaveCount(0);
  await page.getByRole("button", { name: "Read it", exact: true }).click();
  await table.getByLabel("No", { exact: true }).selectOption("sample");
  await table.getByLabel("Eisen").selectOption("iron");
  await table.getByRole("button", { name: "Read it so, and remember" }).click();
  await table.getByRole("button", { name: "Use sample B" }).click();
  await expect(page.getByLabel("copper, ppm", { exact: true })).toHaveValue("160.5");
  await expect(page.getByText(/^It points to: bushings/)).toBeVisible();
  await page.reload();
  await page.getByText("From a laboratory’s table").click();
  await page.getByLabel("Paste it").fill("No;Eisen;Pb;Cu;Sn\nC;44;5;20;2\n");
  await page.getByRole("button", { name: "Read it", exact: true }).click();
  await expect(table.getByText("as the last time with these heads")).toBeVisible();
  await expect(table.getByRole("button", { name: "Use sample C" })).toBeVisible();
});

test("a drop is graded beside drawings; a plug has its own level; water says what is replaced", async ({ page }) => {
  await page.goto("/instruments/fluid-look");
  const grade = (mark: string, words: string) => page.getByRole("group", { name: mark, exact: true }).getByRole("button", { name: words });
  await expect(page.getByText(/Grade what you see/)).toBeVisible();
  await grade("Color in a thin layer on white paper", "black").click();
  await grade("Burnt smell", "strong").focus();
  await page.keyboard.press("Enter");
  await grade("Drop on blotting paper, its middle", "dark core that stays").click();
  await expect(page.getByText(/^It points to: a clutch/)).toBeVisible();
  for (const [mark, words] of [
    ["Color in a thin layer on white paper", "black"],
    ["Burnt smell", "strong"],
    ["Drop on blotting paper, its middle", "dark core that stays"],
  ] as const)
    await grade(mark, words).click(); // pressed again: not looked at
  await expect(page.getByText(/Grade what you see/)).toBeVisible();

  await page.goto("/instruments/fluid-level?unit=ombrin-s6");
  await expect(page.getByRole("heading", { name: "Fluid level at the plug" })).toBeVisible();
  const steps = page.getByRole("region", { name: "How it is read on this unit" });
  await steps.getByRole("checkbox", { name: /Level ground/ }).check();
  await expect(steps.getByRole("checkbox", { name: /Level ground/ })).toBeChecked();
  await page.getByLabel("With the plug out").selectOption("nothing");
  await expect(page.getByText(/Low: fill until it just runs/)).toBeVisible();
  await page.getByLabel(/^Ran out until it was a thread/).fill("0.9");
  await expect(page.getByText(/Low: add 0\.9 L/)).toBeVisible();
  await page.getByLabel(/^Or how far under the edge/).fill("12");
  await expect(page.getByText(/the amount says it already/)).toBeVisible();

  await page.goto("/instruments/fluid-spoilt?unit=norrad-h4");
  await expect(page.getByText(/Flush at once: 6 changes/)).toBeVisible();
  await page.getByLabel("Driven with it, about", { exact: true }).fill("400");
  await expect(page.getByText(/every lined part is replaced/)).toBeVisible();
  await expect(page.getByRole("figure", { name: "What is done with each part" })).toContainText("overdrive band");
});

test("several samples of one filling make a trend", async ({ page }) => {
  await page.goto("/instruments/fluid-report");
  await page.getByText("From a laboratory’s table").click();
  await page.getByLabel("Paste it").fill("Sample,Distance (km),Iron ppm,Copper ppm\nC,30000,180,30\nA,10000,35,21\nB,20000,90,25\n");
  await page.getByRole("button", { name: "Read it", exact: true }).click();
  await page.getByRole("navigation", { name: "Trends over these samples" }).getByRole("link", { name: "iron" }).click();
  await expect(page.getByRole("heading", { name: "Trend of a laboratory's value" })).toBeVisible();
  await expect(page.getByText(/^Iron rises 4\.8 times/)).toBeVisible();
  await page.getByLabel("Value at each", { exact: true }).fill("35; 90");
  await expect(page.getByText(/3 distances and 2 values/)).toBeVisible();
});
