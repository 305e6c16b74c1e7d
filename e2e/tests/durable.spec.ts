import { expect, test } from "@playwright/test";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serve, stop } from "./server";

test("a page works on while the server is away, and nothing typed is lost", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
  const port = 8124;
  let server = await serve(data, port);
  try {
    const base = `http://127.0.0.1:${port}`;
    const made = (await (
      await page.request.post(`${base}/api/cases`, { data: { words: "It slips", vehicle: "Ferry shuttle", unit: "norrad-h4" } })
    ).json()) as { id: string };
    await page.goto(`${base}/cases/${made.id}/road`);
    await page.getByRole("button", { name: /^D1, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    await stop(server, "SIGKILL");
    await page.getByRole("button", { name: /^D2, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByText(/Server away/)).toBeVisible();
    server = await serve(data, port);
    await expect(page.getByRole("button", { name: "D2, drives: normal" })).toBeVisible({ timeout: 20_000 });
    await page.reload();
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    await expect(page.getByRole("button", { name: "D2, drives: normal" })).toBeVisible();
  } finally {
    await stop(server, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  }
});
