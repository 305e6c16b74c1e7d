import { expect, test } from "./app";
import { caseOf } from "./server";

test("the apply chart is computed; speed and load run through the range that is chosen", async ({ page }) => {
  await page.goto("/units");
  await page.getByRole("link", { name: /Norrad H4/ }).click();
  const chart = page.getByRole("table", { name: "Apply chart" });
  await expect(chart.getByRole("row", { name: /D1/ })).toContainText("2.400");
  await expect(chart.getByRole("row", { name: /^R/ })).toContainText("−2.000");
  await chart.getByRole("button", { name: "D3" }).click();
  await page.getByLabel("Load (below zero: foot off), %").fill("100");
  await page.getByLabel("Input speed, rpm").fill("3000");
  await page.getByText(/^As tables/).click();
  // 5/12 of 240 N·m through the forward clutch, 7/12 through the direct clutch: lever arms of the compound set.
  const torques = page.getByRole("table", { name: "Torque on elements" });
  await expect(torques.getByRole("row", { name: /^forward clutch/ })).toContainText("100 N·m");
  await expect(torques.getByRole("row", { name: /^direct clutch/ })).toContainText("140 N·m");
  await expect(page.getByRole("table", { name: "Members" }).getByRole("row", { name: /^ring, output/ })).toContainText("3,000 rpm");
  await page.getByLabel("Converter slip, %").fill("12");
  await expect(page.getByRole("table", { name: "Members" }).getByRole("row", { name: /^ring, output/ })).toContainText("2,850 rpm"); // 1 − 5·0.12/12
  await chart.getByRole("button", { name: "D1" }).click();
  await page.getByLabel("Load (below zero: foot off)", { exact: true }).press("Home");
  await expect(page.getByText("Foot off, a one-way clutch lets go")).toBeVisible();
});

test("failures: filtered, sorted, marked, and two of them side by side", async ({ page }) => {
  await page.goto("/units/norrad-h4/faults");
  const table = page.getByRole("table", { name: "Fault table" });
  await page.getByRole("combobox", { name: /^Part/ }).selectOption({ label: "direct clutch" });
  await expect(table.getByRole("row", { name: /direct clutch never applies/ })).toContainText("stays D2");
  await expect(table.getByRole("row")).toHaveCount(7);
  await page.getByRole("button", { name: "Show me ranges that differ" }).click();
  await expect(table.getByRole("columnheader", { name: "N", exact: true })).toHaveCount(0);
  await page.getByRole("combobox", { name: /^Part/ }).selectOption({ label: "all" });
  await page.getByLabel("Compare: direct clutch slips").check();
  await expect(page.getByRole("region", { name: "One failure in words" })).toContainText("× the engine's torque");
  await page.getByLabel("Compare: direct clutch applies late").check();
  await expect(page.getByRole("region", { name: "Two failures side by side" })).toContainText("To tell them apart: drive");
  await page.getByRole("combobox", { name: /^Sort by/ }).selectOption({ label: "what R does" });
  await expect(table.getByRole("row").nth(1)).not.toContainText("direct clutch slips");
  await expect(page.getByText(/no road test tells apart/)).toBeVisible();
});

test("solenoids: what each setting gives, and what is left without power", async ({ page }) => {
  await page.goto("/units/tessaly-e4t/controls");
  await expect(page.getByRole("table", { name: "Commanded in health" }).getByRole("row", { name: /^D D3/ })).toContainText("K1 K2");
  await expect(page.getByRole("table", { name: "Without electric power" }).getByRole("row", { name: /^D/ })).toContainText("as D2, 1.640");
  await page.goto("/units/norrad-v3/controls");
  await expect(page.getByRole("table", { name: "Shift points" })).toContainText("km/h");
  await page.goto("/units/ombrin-m5/controls");
  await expect(page.getByText("No controls")).toBeVisible();
});

test("oil: the way to an element, with its taps, and what shares it", async ({ page }) => {
  await page.goto("/units/vantrice-t10/oil");
  await page.getByRole("button", { name: "C · clutch C" }).click();
  await expect(page.getByRole("img", { name: /Oil path to the clutch C/ })).toContainText("clutch C tap");
  await expect(page.getByText(/seal rings of the three-clutch drum.*B, F/)).toBeVisible();
});

test("two speeds name the gear, or the slip", async ({ page }) => {
  await page.goto("/units/tessaly-e4t/gears");
  await page.getByLabel("Input speed as read").fill("2000 rpm");
  await page.getByLabel("Output speed as read").fill("1219");
  await expect(page.getByText(/^This is D2/)).toBeVisible();
  await page.getByLabel("Input speed as read").fill("2200");
  await expect(page.getByRole("table", { name: "Slip of each element" })).toContainText("second-fourth band");
  await page.getByLabel("Output speed as read").fill("fast");
  await expect(page.getByRole("alert")).toContainText("fast");
});

test("a sheet of one's own: copied, broken, mended, saved, kept by a case when it changes", async ({ page, request }) => {
  await page.goto("/units/norrad-d2/sheet");
  await page.getByRole("link", { name: "Copy into a sheet of your own" }).click();
  const text = page.getByLabel("Text of the sheet");
  await expect(text).toHaveValue(/id: my-norrad-d2/);
  const good = await text.inputValue();
  await text.fill(good.replace("ring_teeth: 72", "ring_teeth: 73"));
  await expect(page.getByText("One thing is wrong")).toBeVisible();
  const problem = page.getByRole("button", { name: /^Line \d+: gearing\.sets\[0\]/ });
  await expect(problem).toContainText("does not mesh");
  await problem.click();
  await expect(text).toBeFocused();
  await expect(page.getByRole("button", { name: /^Save as version/ })).toBeDisabled();
  await page.reload(); // what was typed is still there
  await expect(text).toHaveValue(/ring_teeth: 73/);
  await page.getByRole("button", { name: "Begin again" }).click();
  await page.getByRole("button", { name: "Take that back" }).click();
  await expect(text).toHaveValue(/ring_teeth: 73/);
  await text.fill(good);
  await expect(page.getByRole("table", { name: "Ranges" })).toContainText("2.200");
  await page.getByRole("button", { name: "Save as version 1" }).click();
  await expect(page).toHaveURL(/units\/my-norrad-d2\/gears/); // the verdict beside the text names the unit before it is saved
  await expect(page.getByRole("heading", { name: "Norrad D2, own" })).toBeVisible();
  const made = (await (
    await request.post("/api/cases", { data: { words: "groans", vehicle: "Own-sheet bus", unit: "my-norrad-d2" } })
  ).json()) as { id: string };
  await page.getByRole("link", { name: "Sheet", exact: true }).click();
  await page.getByRole("link", { name: "Write the next version" }).click();
  await expect(text).toHaveValue(/version: 2/);
  await page.getByRole("button", { name: "Save as version 2" }).click();
  await expect(page.getByText(/own sheet 2/)).toBeVisible();
  const kept = await caseOf(request, made.id);
  expect(kept).toMatchObject({ unitVersion: 1, unitNewest: 2 });
});

test("road test of the ten-speed: keys fill it, the shared drum comes up, its split is named", async ({ page, request }) => {
  const made = (await (
    await request.post("/api/cases", { data: { words: "late into some gears", vehicle: "Ten-speed", unit: "vantrice-t10" } })
  ).json()) as { id: string };
  await page.goto(`/cases/${made.id}/road`);
  await expect(page.getByText("Nothing driven yet.")).toBeVisible();
  for (const [range, what, key, state] of [
    ["D5", "shift into", "f", "flares"],
    ["D7", "shift into", "f", "flares"],
    ["D4", "shift into", "f", "flares"],
    ["D2", "shift into", " ", "normal"],
    ["D8", "shift into", " ", "normal"],
  ]) {
    await page.getByRole("button", { name: `${range}, ${what}: not driven` }).focus();
    await page.keyboard.press(key!);
    await expect(page.getByRole("button", { name: `${range}, ${what}: ${state}` })).toBeVisible();
  }
  const predicted = page.getByRole("table", { name: "Predicted failures against what was driven" });
  await expect(predicted.getByRole("row").nth(1)).toContainText("three-clutch drum");
  await expect(page.getByRole("button", { name: "Drive this next" })).toBeVisible();
  await expect(page.getByText(/Before you drive/)).toBeVisible();
  await page.getByRole("radio", { name: "cold" }).click();
  await expect(page.getByRole("button", { name: "D5, shift into: not driven" })).toBeVisible();
  await expect(page.getByRole("button", { name: "D10, converter clutch: not driven" })).toBeVisible();
});

test("road test by touch: one tap says normal, a second above says what else", async ({ page, request }) => {
  const made = (await (
    await request.post("/api/cases", { data: { words: "no reverse", vehicle: "Tapped van", unit: "tessaly-e4t" } })
  ).json()) as { id: string };
  await page.goto(`/cases/${made.id}/road`);
  await page.getByRole("button", { name: "D1, drives: not driven" }).click();
  await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
  await page.getByRole("button", { name: "R, drives: not driven" }).click();
  await page.getByRole("group", { name: "States of drives" }).getByRole("button", { name: "no drive" }).click();
  await expect(page.getByRole("button", { name: "R, drives: no drive" })).toBeVisible();
  await page.getByRole("button", { name: "R, drives: no drive" }).click(); // a tap on what was read changes nothing
  await expect(page.getByRole("button", { name: "R, drives: no drive" })).toBeVisible();
});
