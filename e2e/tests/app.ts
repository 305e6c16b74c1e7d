import { expect, test as base, type Page } from "@playwright/test";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serve, stop } from "./server";

/** Writes down a vehicle as it comes in; the unit is found by typing and taken with Enter. */
export async function writeDown(page: Page, vehicle: string, unit: string) {
  await page.getByRole("combobox", { name: /^Vehicle/ }).fill(vehicle);
  await page.keyboard.press("Tab"); // as one goes on; the list of vehicles closes
  const field = page.getByRole("combobox", { name: /^Unit/ });
  await field.fill(unit);
  await expect(page.getByRole("option", { name: new RegExp(unit) }).first()).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("option").first()).toBeHidden();
}

export { expect, type APIRequestContext, type Browser, type Page } from "@playwright/test";

/** A test on the real app: its own server on its own copy of the demo's data. Pages and requests know its address. */
export const test = base.extend({
  baseURL: async ({}, use) => {
    const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
    cpSync(process.env.COMPASS_DEMO!, data, { recursive: true });
    const server = await serve(data);
    await use(server.url);
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  },
});
