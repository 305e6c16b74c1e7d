import { expect, test } from "./app";
import { caseId, changeSettings } from "./server";

test("an instrument is found by what is asked or in the hand, and answers as one types", async ({ page }) => {
  await page.goto("/instruments");
  await page.getByRole("button", { name: "Spring, scale" }).click();
  await expect(page.getByRole("link", { name: /Spring weighed and matched/ })).toBeVisible();
  await expect(page.getByRole("link", { name: /Star order/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Spring, scale" }).click();
  await page.getByRole("searchbox").fill("lubricant torque");
  await page.getByRole("link", { name: /Torque with another lubricant/ }).click();
  const form = page.getByRole("form", { name: "Torque with another lubricant" });
  await form.getByLabel("Torque given", { exact: true }).fill("26");
  await form.getByLabel("Unit of Torque given").selectOption("lbf·ft");
  await form.getByLabel("It is given for").selectOption("dry");
  await form.getByLabel("Threads are").selectOption("dry");
  await expect(form.getByText("35.3 N·m", { exact: true }).first()).toBeVisible(); // 26 lbf·ft, unchanged
  await form.getByLabel("Threads are").selectOption("anti-seize");
  await expect(form.getByText(/Set 2\d\.\d N·m for the same tension/)).toBeVisible();
  // An uncertainty may be typed with the value.
  await page.goto("/instruments/orifice");
  await page.getByLabel("Diameter", { exact: true }).fill("1.5 ± 0.15");
  await expect(page.getByText(/What matters most: diameter \d+ %/)).toBeVisible();
});

test("absurd input says what is wrong in words and gives no number", async ({ page }) => {
  await page.goto("/instruments/plate-capacity?unit=norrad-h4&part=DC");
  await expect(page.getByText(/It holds 3\d\d ± \d+ N·m/)).toBeVisible();
  await page.getByLabel("Lining, inner diameter", { exact: true }).fill("300");
  await expect(page.getByText(/inner diameter is not under/)).toBeVisible();
  await expect(page.getByText(/It holds/)).toHaveCount(0);
  await page.getByLabel("Lining, inner diameter", { exact: true }).fill("NaN");
  await expect(page.getByText(/no number/)).toBeVisible();
  await page.goto("/instruments/no-such-thing");
  await expect(page.getByText(/no instrument/)).toBeVisible();
});

test("on a unit the sheet fills in what it knows; units of the shop are those of the page", async ({ page, request }) => {
  const shop = await changeSettings(request, { length: "in", torque: "lbf·ft" });
  try {
    await page.goto("/instruments/band-capacity?unit=norrad-h4");
    await expect(page.getByLabel("Unit of Drum diameter")).toHaveValue("in");
    await expect(page.getByText(/It holds .* lbf·ft/)).toBeVisible();
  } finally {
    await changeSettings(request, shop);
  }
});

test("from a case the result becomes a reading, with the gauge that was used", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  await page.goto(`/instruments/window?case=${id}&part=end-play`);
  const form = page.getByRole("form", { name: "Input shaft end play" });
  await expect(form.getByText(/Still needed: value/)).toBeVisible();
  await form.getByLabel("Read with").selectOption({ label: "dial indicator, bench 1" });
  await form.getByRole("textbox", { name: /^Value/ }).fill("1.2");
  await expect(form.getByText("Input shaft end play: too loose")).toBeVisible();
  await form.getByRole("button", { name: /Put into case/ }).click();
  await expect(page.getByText("Kept in the case.")).toBeVisible();
  await expect(page.getByRole("region", { name: "Measured before in this case" })).toContainText("above its window");
  await page.getByRole("link", { name: "To the case" }).click();
  const item = page.getByRole("complementary", { name: "Trail" }).getByRole("button", { name: /Input shaft end play/ });
  await expect(item).toBeVisible();
  await item.click();
  await page.getByRole("button", { name: "Take back this reading" }).click();
});

test("a gauge whose calibration has ended says so where it is chosen", async ({ page }) => {
  await page.goto("/settings");
  const gauges = page.getByRole("region", { name: "Gauges" });
  await expect(gauges.getByText("Calibration has ended.")).toBeVisible();
  await gauges.getByRole("button", { name: "Add a gauge" }).click();
  const added = gauges.getByRole("group", { name: "new gauge" });
  await added.getByLabel(/^Gauge/).fill("feeler gauges");
  await gauges.getByRole("button", { name: "Save the gauges" }).click();
  await expect(gauges.getByText(/neither resolution nor/)).toBeVisible();
  await gauges.getByRole("group", { name: "feeler gauges" }).getByLabel("Resolution").fill("0.05 mm");
  await gauges.getByRole("button", { name: "Save the gauges" }).click();
  await expect(gauges.getByRole("status").getByText("Saved")).toBeVisible();
  await page.goto("/instruments/line-pressure?unit=norrad-h4");
  await page.getByLabel("Read with").selectOption("gauge-300");
  await expect(page.getByRole("alert").getByText(/Calibration ended on/)).toBeVisible();
});

test("an example shows what an instrument does; its result goes on to the next one", async ({ page }) => {
  await page.goto("/instruments/window?unit=norrad-h4&part=clearance-DC");
  const form = page.getByRole("form", { name: "Direct clutch clearance" });
  await form.getByRole("button", { name: "Show an example" }).click();
  await expect(form.getByText("1.420 ± 0.031 mm")).toBeVisible();
  await expect(form.getByText(/= 0\.0559 ± 0\.0012 in/)).toBeVisible();
  await form.getByRole("navigation", { name: "Goes on with" }).getByRole("link", { name: /^Fill/ }).click();
  const fill = page.getByRole("form", { name: "Fill: direct clutch" });
  await expect(fill.getByLabel("Clearance of the pack", { exact: true })).toHaveValue("1.420 ± 0.031");
  await expect(fill.getByText(/The plates touch after/)).toBeVisible();
});

test("what is measured in a case is kept, fills in other instruments, and can be taken back", async ({ page, request }) => {
  const id = await caseId(request, "tractor");
  await page.goto(`/instruments/plate-capacity?case=${id}&part=DC`);
  await page.getByRole("button", { name: /Put into case/ }).click();
  await expect(page.getByText("Kept in the case.")).toBeVisible();
  await page.getByRole("link", { name: "All instruments" }).click();
  const kept = page.getByRole("region", { name: "Measured in this case" });
  await expect(kept).toContainText("N·m");
  await page.getByRole("link", { name: /Energy and plate temperature/ }).click();
  await page.getByLabel("Of what").selectOption({ label: "direct clutch" });
  await expect(page.getByText(/← Capacity/)).toBeVisible();
  await page.goto(`/instruments/plate-capacity?case=${id}&part=DC`);
  await page.getByRole("button", { name: "Take back" }).click();
  await expect(page.getByText("replaced or taken back")).toBeVisible();
  await page.goto(`/instruments/shift-energy?case=${id}&part=DC`);
  await expect(page.getByText(/The face reaches/)).toBeVisible();
  await expect(page.getByText(/← Capacity/)).toHaveCount(0);
});
