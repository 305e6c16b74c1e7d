import { expect, test, type APIRequestContext, type Page } from "./app";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { caseOf, changeSettings, serve, stop } from "./server";

test("a page works on while the server is away, and nothing typed is lost", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
  let server = await serve(data);
  try {
    const { url: base, port } = server;
    const made = (await (
      await page.request.post(`${base}/api/cases`, { data: { words: "It slips", vehicle: "Ferry shuttle", unit: "norrad-h4" } })
    ).json()) as { id: string };
    await page.goto(`${base}/cases/${made.id}/road`);
    await page.getByRole("button", { name: /^D1, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    await stop(server.child, "SIGKILL");
    await page.getByRole("button", { name: /^D2, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByText(/Server away/)).toBeVisible();
    server = await serve(data, port);
    await expect(page.getByRole("button", { name: "D2, drives: normal" })).toBeVisible({ timeout: 20_000 });
    await page.reload();
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    await expect(page.getByRole("button", { name: "D2, drives: normal" })).toBeVisible();
  } finally {
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  }
});

test.describe("two pages of one case", () => {
  const open = async (request: APIRequestContext, base = "") => {
    const made = await request.post(`${base}/api/cases`, { data: { words: "It slips", vehicle: "Shared van", unit: "norrad-h4" } });
    return ((await made.json()) as { id: string }).id;
  };
  const reading = (cell: string) => ({
    data: { readings: [{ key: `other-${cell}`, finding: `road.hot.${cell}`, state: "normal", source: "seen", stage: "road" }] },
  });
  const cell = (page: Page, name: string) => page.getByRole("button", { name });

  test("a form that was filled in does not overwrite what was saved meanwhile", async ({ page, context, request }) => {
    const id = await open(request);
    const other = await context.newPage();
    for (const p of [page, other]) {
      await p.goto(`/cases/${id}/complaint`);
      await p.getByRole("button", { name: "Change words, vehicle" }).click();
    }
    await other.getByLabel("Bay").fill("bay 4");
    await other.getByRole("button", { name: "Save", exact: true }).click();
    await expect(other.getByRole("button", { name: "Change words, vehicle" })).toBeVisible();

    await page.getByLabel("Waits for").fill("a gasket");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByRole("alert").filter({ hasText: "Nothing of yours is saved yet" })).toContainText("Bay now: “bay 4”");
    expect(await caseOf(request, id)).toMatchObject({ bay: "bay 4", waitsFor: "" });
    await page.getByLabel("Bay").fill("bay 4");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect.poll(async () => await caseOf(request, id)).toMatchObject({ bay: "bay 4", waitsFor: "a gasket" });

    const again = page.getByRole("button", { name: "Change words, vehicle" });
    await again.click();
    await request.patch(`/api/cases/${id}`, { data: { bay: "bay 5" } });
    await page.getByLabel("Waits for").fill("a bolt");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    const refused = page.getByRole("alert").filter({ hasText: "Nothing of yours is saved yet" });
    await expect(refused).toContainText("Bay now: “bay 5”");
    await page.getByRole("button", { name: "Leave as it was" }).click();
    await again.click();
    await expect(page.getByLabel("Bay")).toHaveValue("bay 5");
    await expect(refused).toHaveCount(0);
  });

  test("a change that arrives while this page saves is shown as well", async ({ page, request }) => {
    const id = await open(request);
    await page.goto(`/cases/${id}/road`);
    let release = () => {};
    const held = new Promise<void>((r) => (release = r));
    await page.route("**/readings", async (route) => {
      const answer = await route.fetch();
      await held;
      await route.fulfill({ response: answer });
    });
    const sent = page.waitForRequest("**/readings");
    await cell(page, "D1, drives").first().click();
    await sent;
    await expect.poll(async () => (await caseOf(request, id)).trail.length).toBe(1);
    await request.post(`/api/cases/${id}/readings`, reading("D2.drives"));
    release();
    await expect(cell(page, "D1, drives: normal")).toBeVisible();
    await expect(cell(page, "D2, drives: normal")).toBeVisible();
  });

  test("what others did while the line was broken is there when it is back", async ({ page, request }) => {
    const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
    let server = await serve(data);
    const { url: base, port } = server;
    try {
      const id = await open(request, base);
      await page.goto(`${base}/cases/${id}/road`);
      await expect(cell(page, "D2, drives").first()).toBeVisible();
      await page.route("**/api/events", (route) => route.abort());
      await stop(server.child, "SIGKILL");
      await expect(page.getByText(/Server away/)).toBeVisible();
      server = await serve(data, port);
      await request.post(`${base}/api/cases/${id}/readings`, reading("D2.drives"));
      await page.unroute("**/api/events");
      await expect(cell(page, "D2, drives: normal")).toBeVisible({ timeout: 20_000 });
    } finally {
      await stop(server.child, "SIGTERM");
      rmSync(data, { recursive: true, force: true });
    }
  });
});

test("what is typed stays when the settings come late, and when another page changes them", async ({ page, request }) => {
  await page.route("**/api/settings", async (route) => {
    await new Promise((done) => setTimeout(done, 700));
    await route.continue();
  });
  const late = page.waitForResponse("**/api/settings");
  await page.goto("/take-in");
  await page.getByLabel(/What does the customer say/).fill("Slips hot");
  await late;
  await page.getByRole("combobox", { name: /^Vehicle/ }).fill("White van");
  await page.getByText("Customer, bay, who works on it").click();
  const again = page.waitForResponse("**/api/settings");
  await changeSettings(request, { zone: "Asia/Tokyo" });
  await again;
  await page.getByLabel("Bay").fill("bay 4");
  await expect(page.getByLabel(/What does the customer say/)).toHaveValue("Slips hot");
  await expect(page.getByRole("combobox", { name: /^Vehicle/ })).toHaveValue("White van");
});
