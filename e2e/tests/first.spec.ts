import AxeBuilder from "@axe-core/playwright";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test as base } from "@playwright/test";
import { writeDown } from "./app";
import { serve, stop } from "./server";

/** A shop on its first day: an empty data folder. */
const test = base.extend({
  baseURL: async ({}, use) => {
    const data = mkdtempSync(join(tmpdir(), "compass-empty-"));
    const server = await serve(data);
    await use(server.url);
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  },
});

test("an empty shop is set up in three lines; what is wrong says so and loses nothing", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("textbox", { name: "Name of the shop" }).fill("Hill Road Transmissions");
  await page.getByRole("radio", { name: /^metric/ }).click();
  await page.getByRole("textbox", { name: "Currency" }).fill("£");
  await page.getByRole("textbox", { name: "Labor rate per hour" }).fill("ninety");
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);
  await page.getByRole("button", { name: "Save and go on" }).click();
  await expect(page.getByRole("alert")).toContainText("Accepted:");
  await expect(page.getByRole("textbox", { name: "Name of the shop" })).toHaveValue("Hill Road Transmissions");
  await page.getByRole("textbox", { name: "Labor rate per hour" }).fill("92.50");
  await page.getByRole("button", { name: "Save and go on" }).click();
  await expect(page.getByRole("heading", { name: "The floor is empty" })).toBeVisible();
  await page.goto("/settings");
  await expect(page.getByLabel("Name on the record")).toHaveValue("Hill Road Transmissions");
  await expect(page.getByLabel(/^Labor rate, per hour/)).toHaveValue("92.5");
  await expect(page.getByRole("radiogroup", { name: "Pressure" }).getByRole("radio", { name: "bar" })).toBeChecked();
});

test("a sample case is tried, gives no record, and is removed", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("textbox", { name: "Name of the shop" }).fill("Hill Road");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Try a sample case" }).click();
  await expect(page.getByText("Sample, made up.")).toBeVisible();
  await expect(page.getByRole("heading", { name: /^Next:/ })).toBeVisible();
  await page.goto("/");
  await expect(page.getByRole("link", { name: /sample, made up/ })).toBeVisible();
  await page.getByRole("link", { name: /sample, made up/ }).click();
  await page.getByRole("button", { name: "Remove the sample" }).click();
  await expect(page.getByRole("heading", { name: "The floor is empty" })).toBeVisible();
});

test("a unit that is not on file takes the nearest, and the case says so", async ({ page }) => {
  await page.goto("/take-in");
  await page.getByLabel("What does the customer say?").fill("It slips");
  await writeDown(page, "Odd van", "four-speed");
  await page.getByLabel("not this unit: the nearest on file").check();
  await page.getByRole("button", { name: "Open the case" }).click();
  await expect(page.getByText(/nearest sheet on file, not its own/)).toBeVisible();
});
