import type { Locator } from "@playwright/test";
import { expect, test, type Page } from "./app";

// A phone in the bay: 390 pixels wide, fingers only. What is typed is typed on its own keyboard.
test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

/** Nothing of a place may stick out of the page: what is wide scrolls in its own box. */
async function fits(page: Page, place: string) {
  const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(over, `${place} is ${over} px wider than the page`).toBeLessThanOrEqual(0);
}

/** A finger needs 44 pixels, or the label that belongs to it. */
async function reachable(target: Locator) {
  await expect.poll(async () => Math.round((await target.boundingBox())?.height ?? 0)).toBeGreaterThanOrEqual(44);
  await target.tap();
}

test("a case from complaint to proof by touch, on a phone", async ({ page, context }) => {
  test.setTimeout(120_000);
  await page.goto("/");
  await fits(page, "the Floor");
  for (const place of ["Units", "Instruments", "Knowledge", "Settings", "Floor"]) {
    await page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: place }).tap();
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await fits(page, place);
  }
  await reachable(page.getByRole("button", { name: /Take in a vehicle/ }));
  await page.getByLabel(/What does the customer say/).fill("Slips on hills once it is hot");
  await page.getByRole("combobox", { name: /^Vehicle/ }).fill("Ferry shuttle");
  await page.getByRole("combobox", { name: /^Unit/ }).tap();
  await page.getByRole("combobox", { name: /^Unit/ }).fill("H4");
  await page.getByRole("option", { name: /Norrad H4/ }).tap();
  await fits(page, "taking in");
  await reachable(page.getByRole("button", { name: /Open the case/ }));

  await reachable(page.getByRole("button", { name: /^Take (it|all)/ }));
  await fits(page, "the complaint");
  const asked = page.getByRole("region", { name: "Interview" });
  await expect(asked.getByText(/question 1 of at most 5/)).toBeVisible();
  await asked.locator("button[aria-pressed]").first().tap();
  await expect(asked.getByText(/question 2 of at most 5/)).toBeVisible();

  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Road test" }).tap();
  await fits(page, "the road test");
  await reachable(page.getByRole("button", { name: "Drive it cell by cell" }));
  const drive = page.getByRole("region", { name: "Drive" });
  await fits(page, "the drive");
  for (let i = 0; i < 3; i++) await reachable(drive.getByRole("button", { name: /^normal/ }));
  await drive.getByLabel("Call out").fill("third flares, third slips");
  await reachable(drive.getByRole("button", { name: "Note 2" }));
  await reachable(drive.getByRole("button", { name: "To the grid" }));
  await expect(page.getByRole("button", { name: "D3, shift into: flares" })).toBeVisible();

  // The next step is in view; the rest is in the drawers.
  const next = page.getByRole("region", { name: "Next step" });
  await page.evaluate(() => scrollTo(0, document.body.scrollHeight));
  await expect(next).toBeInViewport();
  await page.getByRole("button", { name: "Heading and suspects" }).tap();
  await expect(page.getByRole("dialog").getByText("Direct clutch", { exact: false }).first()).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Close" }).tap();

  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Checks" }).tap();
  await fits(page, "the checks");
  await page.getByRole("searchbox", { name: "Search the checks" }).fill("line pressure hot");
  await reachable(page.getByRole("button", { name: /^Line pressure by range, hot/ }));
  await expect(page.getByText("Hot oil under pressure.").first()).toBeVisible();
  await reachable(page.getByRole("button", { name: "Read; show the steps" }));
  for (const [range, value] of [
    ["R", "76"],
    ["D1", "60"],
    ["D2", "4.1 bar"],
    ["D3", "41"],
    ["D4", "43"],
  ] as const)
    await page.getByRole("textbox", { name: new RegExp(`^${range}, psi`) }).fill(value);
  await expect(page.getByText(/^Low only where .*D3, D4/)).toBeVisible();
  await fits(page, "a check");
  await reachable(page.getByRole("button", { name: /^Put into case/ }));
  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Teardown" }).tap();
  await fits(page, "the teardown");
  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Decision" }).tap();
  const options = page.getByRole("radiogroup", { name: "Repair options" });
  await expect(options).toBeVisible();
  await fits(page, "the decision");
  await reachable(options.getByRole("radio", { name: /^Direct clutch replaced/ }));
  await page.getByLabel(/In the customer’s words/).fill("Do it, before the season");
  await reachable(page.getByRole("button", { name: "Record the choice" }));
  await expect(page.getByText(/^Agreed: Direct clutch replaced/)).toBeVisible();
  await reachable(page.getByRole("button", { name: "Issue the record" }));
  const record = page.getByRole("link", { name: "Page", exact: true });
  await expect(record).toBeVisible();
  const [sheet] = await Promise.all([context.waitForEvent("page"), record.tap()]);
  await expect(sheet.getByText("Do it, before the season")).toBeVisible();
  await sheet.close();

  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Proof" }).tap();
  await fits(page, "the proof");
  const values = page.getByRole("textbox", { name: /^Value of Measured as assembled/ });
  await expect(values).toHaveCount(2);
  for (const [i, value] of ["1.5 mm", "0.5 mm"].entries()) {
    await values.nth(i).fill(value);
    await values.nth(i).blur();
    await expect(page.getByText("✓ inside")).toHaveCount(i + 1);
  }
  const items = page.getByRole("radiogroup", { name: /./ }).filter({ has: page.getByRole("radio", { name: "open", exact: true }) });
  for (let i = 0; i < (await items.count()); i++) {
    const good = items.nth(i).getByRole("radio", { name: /^✓/ });
    await reachable(good);
    await expect(good).toHaveAttribute("aria-checked", "true");
  }
  await reachable(page.getByRole("button", { name: "Close the case" }));
  await expect(page.getByText("Closed: cured.")).toBeVisible();
});
