import { expect, test, type Page } from "./app";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { caseOf, serve, stop, type Server } from "./server";

const bar = (page: Page) => page.getByRole("region", { name: "Waiting on this device" });

/** A shop of its own, with one case. */
async function shop(page: Page) {
  const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
  const server = await serve(data);
  const made = (await (
    await page.request.post(`${server.url}/api/cases`, { data: { words: "It slips", vehicle: "Ferry shuttle", unit: "norrad-h4" } })
  ).json()) as { id: string };
  return { data, server, id: made.id };
}

async function noted(server: Server, page: Page, id: string) {
  const all = (await (await page.request.get(`${server.url}/api/cases/${id}`)).json()) as { ranking: { trail: { finding: string }[] } };
  return all.ranking.trail.map((t) => t.finding).sort();
}

test("what is noted while the line is down waits on the device, outlives the page, and arrives once", async ({ page }) => {
  const { data, server: first, id } = await shop(page);
  let server = first;
  try {
    await page.goto(`${server.url}/cases/${id}/road`);
    const cell = async (name: string) => {
      await page.getByRole("button", { name: new RegExp(`^${name}, drives`) }).focus();
      await page.keyboard.press("Space");
    };
    await cell("D1");
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    await stop(server.child, "SIGKILL");
    await cell("D2");
    await cell("D3");
    await expect(bar(page)).toContainText("2 notes wait on this device", { timeout: 10_000 });
    await bar(page).getByRole("button", { name: "Show" }).click();
    await expect(bar(page)).toContainText("waits for the server");
    await expect(page.getByRole("button", { name: "D2, drives: normal, waits on this device" })).toBeVisible();
    server = await serve(data, server.port);
    // The page is gone before the line is back for good: another one sends what it has left.
    await page.goto(`${server.url}/`);
    await expect(bar(page)).toHaveCount(0, { timeout: 15_000 });
    await expect.poll(() => noted(server, page, id)).toEqual(["road.hot.D1.drives", "road.hot.D2.drives", "road.hot.D3.drives"]);
    await page.reload();
    await expect(page.getByRole("heading", { name: "On the floor" })).toBeVisible();
    expect(await noted(server, page, id)).toEqual(["road.hot.D1.drives", "road.hot.D2.drives", "road.hot.D3.drives"]);
  } finally {
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  }
});

for (const choice of ["Send mine", "Keep theirs"]) {
  test(`somebody noted something else meanwhile: a person decides, ${choice.toLowerCase()}`, async ({ page, context }) => {
    const { data, server, id } = await shop(page);
    try {
      await page.goto(`${server.url}/cases/${id}/road`);
      await expect(page.getByRole("button", { name: /^D1, drives/ })).toBeVisible();
      await context.setOffline(true);
      await page.getByRole("button", { name: /^D1, drives/ }).focus();
      await page.keyboard.press("Space");
      await expect(bar(page)).toContainText("1 note waits on this device", { timeout: 10_000 });
      // The request context of the test does not go by the page's line.
      const theirs = await page.request.post(`${server.url}/api/cases/${id}/readings`, {
        data: { readings: [{ key: "theirs", finding: "road.hot.D1.drives", state: "none", source: "seen", stage: "road", by: "Ines" }] },
      });
      expect(theirs.status()).toBe(200);
      // Long enough to count as having waited.
      const age = () =>
        page.evaluate(() => Date.now() - (JSON.parse(localStorage.getItem("inner-compass.outbox")!) as { at: number }[])[0]!.at);
      await expect.poll(age).toBeGreaterThan(3000);
      await context.setOffline(false);
      await expect(bar(page)).toContainText("1 of 1 ask for a decision", { timeout: 15_000 });
      await expect(bar(page)).toContainText("Ines noted");
      await bar(page).getByRole("button", { name: choice }).click();
      await expect(bar(page)).toHaveCount(0);
      const state = async () => (await caseOf(page.request, id, server.url)).trail.at(-1)?.state;
      await expect.poll(state).toBe(choice === "Send mine" ? "normal" : "none");
    } finally {
      await stop(server.child, "SIGTERM");
      rmSync(data, { recursive: true, force: true });
    }
  });
}
