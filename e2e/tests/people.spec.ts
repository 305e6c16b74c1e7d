import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "./app";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { caseOf, serve, stop } from "./server";

const phrase = "seventeen wet gaskets";
const interim = "a lathe sings on monday";
const own = "purple anvils never sleep";

/** A shop of its own, under a name, so that passkeys work. */
async function withShop(use: (base: string) => Promise<void>, more: string[] = []) {
  const data = mkdtempSync(join(tmpdir(), "compass-e2e-"));
  const server = await serve(data, 0, ...more);
  try {
    await use(`http://localhost:${server.port}`);
  } finally {
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  }
}

async function setUp(page: Page, base: string) {
  await page.goto(`${base}/people`);
  await page.getByLabel("Owner’s name").fill("Ines");
  await page.getByLabel("Owner’s passphrase").fill(phrase);
  await page.getByRole("button", { name: "Set people up" }).click();
  await expect(here(page, "Ines")).toBeVisible();
}

const here = (page: Page, name: string) => page.getByRole("button", { name: `${name} is signed in: change person` });

async function pin(page: Page, value: string) {
  await page.getByRole("textbox", { name: /PIN/ }).fill(value);
  await page.getByRole("button", { name: /Set a PIN|Change the PIN/ }).click();
  await expect(page.getByRole("button", { name: "Give it up" })).toBeVisible();
}

async function clean(page: Page) {
  const found = await new AxeBuilder({ page }).analyze();
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join(", ")}`)).toEqual([]);
}

test("an owner sets the shop up; people change at a tablet by PIN, and what is noted carries the name", async ({ page }) => {
  await withShop(async (base) => {
    await page.goto(base);
    await expect(page.getByText("Who is here?")).toHaveCount(0); // nobody is asked as long as nobody is set up
    await setUp(page, base);
    await clean(page);
    await pin(page, "274916");
    await page
      .getByRole("group", { name: "people" })
      .or(page.getByLabel("Name", { exact: false }))
      .first()
      .waitFor();
    const add = page.locator("form").filter({ has: page.getByRole("button", { name: "Add", exact: true }) });
    await add.getByLabel(/^Name/).fill("Tobin");
    await add.getByLabel("Role").selectOption("apprentice");
    await add.getByLabel("Interim passphrase").fill(interim);
    await add.getByRole("button", { name: "Add", exact: true }).click();
    await expect(page.getByRole("group", { name: "Tobin" })).toContainText("interim passphrase");
    await here(page, "Ines").click();
    await expect(page.getByRole("heading", { name: "Who is here?" })).toBeVisible();
    await clean(page);
    await page.getByRole("button", { name: "Use name and passphrase" }).click();
    await page.getByLabel(/^Name/).fill("tobin");
    await page.getByLabel(/^Passphrase/).fill("not this one at all");
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("alert")).toContainText("name and secret do not match");
    await page.getByLabel(/^Passphrase/).fill(interim);
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("heading", { name: /Hello, Tobin|Welcome, Tobin/ })).toBeVisible();
    const goOn = page.getByRole("button", { name: "Go on" });
    if (await goOn.isVisible()) await goOn.click();
    await expect(page.getByRole("heading", { name: "Welcome, Tobin" })).toBeVisible();
    await page.getByLabel("The one you were given").fill(interim);
    await page.getByLabel("Your own").fill(own);
    await page.getByRole("button", { name: "Use it" }).click();
    await expect(here(page, "Tobin")).toBeVisible();
    await expect(page.getByText("The owner adds people and gives passphrases.")).toBeVisible();
    await pin(page, "550921");
    const made = (await (
      await page.request.post(`${base}/api/cases`, { data: { words: "It slips", vehicle: "Ferry shuttle", unit: "norrad-h4" } })
    ).json()) as { id: string };
    await page.goto(`${base}/cases/${made.id}/road`);
    await page.getByRole("button", { name: /^D1, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "D1, drives: normal" })).toBeVisible();
    // Quick change: a name, six digits, and the page goes on where it was.
    await here(page, "Tobin").click();
    await page.getByRole("button", { name: /^Ines/ }).click();
    await page.keyboard.type("274916");
    const told = page.getByRole("button", { name: "Go on" });
    await expect(told.or(here(page, "Ines"))).toBeVisible();
    if (await told.isVisible()) await told.click();
    await expect(here(page, "Ines")).toBeVisible();
    await page.getByRole("button", { name: /^D2, drives/ }).focus();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "D2, drives: normal" })).toBeVisible();
    expect((await caseOf(page.request, made.id, base)).trail.map((t) => t.by)).toEqual(["Tobin", "Ines"]);
    await page.goto(`${base}/trail?case=${made.id}`);
    await expect(page.getByRole("list", { name: "Entries" }).getByRole("listitem").first()).toContainText("Ines, owner");
    await clean(page);
  });
});

test("a passkey signs in, and what takes two things is offered then", async ({ page, context }) => {
  await withShop(async (base) => {
    await setUp(page, base);
    const cdp = await context.newCDPSession(page);
    await cdp.send("WebAuthn.enable");
    await cdp.send("WebAuthn.addVirtualAuthenticator", {
      options: {
        protocol: "ctap2",
        transport: "internal",
        hasResidentKey: true,
        hasUserVerification: true,
        isUserVerified: true,
        automaticPresenceSimulation: true,
      },
    });
    await page.getByLabel(/^Name of the passkey/).fill("my phone");
    await page.getByRole("button", { name: "Add a passkey" }).click();
    await expect(page.getByRole("button", { name: "Remove passkey my phone" })).toBeVisible();
    await here(page, "Ines").click();
    await context.clearCookies({ name: "compass-device" }); // a device that is not one of the shop's
    await page.goto(`${base}/people`);
    await expect(page.getByText("At a device that is not one of the shop’s")).toBeVisible();
    await page.getByRole("button", { name: "Use a passkey" }).click();
    const goOn = page.getByRole("button", { name: "Go on" });
    // What takes two things is asked for once more, sooner or later.
    await expect(async () => {
      if (await goOn.isVisible()) await goOn.click();
      await expect(page.getByRole("group", { name: "Ines" })).toContainText("1 passkey", { timeout: 2000 });
    }).toPass();
  });
});

test("an apprentice’s decision waits for a countersign on screen", async ({ page }) => {
  await withShop(async (base) => {
    const made = (await (
      await page.request.post(`${base}/api/cases`, { data: { words: "It slips", vehicle: "Ferry shuttle", unit: "norrad-h4" } })
    ).json()) as { id: string };
    await setUp(page, base);
    const headers = { Origin: base };
    const post = (path: string, data: unknown) => page.request.post(`${base}/api${path}`, { data, headers });
    expect((await post("/people", { name: "Tobin", role: "apprentice", passphrase: interim })).status()).toBe(201);
    expect((await post("/session", { name: "Tobin", passphrase: interim })).status()).toBe(200);
    expect((await page.request.put(`${base}/api/me/passphrase`, { data: { old: interim, passphrase: own }, headers })).status()).toBe(204);
    expect((await post(`/cases/${made.id}/decisions`, { option: "watch", choice: "accepted", how: "in-person" })).status()).toBe(201);
    await page.goto(`${base}/cases/${made.id}/decision`);
    await expect(page.getByText("Tobin noted it: waits for a countersign")).toBeVisible();
    await expect(page.getByRole("button", { name: "Countersign" })).toHaveCount(0);
    expect((await post("/session", { name: "Ines", passphrase: phrase })).status()).toBe(200);
    await page.reload();
    await page.getByRole("button", { name: "Countersign" }).click();
    await expect(page.getByText("countersigned by Ines")).toBeVisible();
  });
});

test("backups, privacy and sign-in are whole on a tablet and in the dark", async ({ page }) => {
  await withShop(async (base) => {
    await page.setViewportSize({ width: 820, height: 1180 });
    await page.emulateMedia({ colorScheme: "dark" });
    for (const place of ["people", "backup", "privacy", "trail", "verify"]) {
      await page.goto(`${base}/${place}`);
      await expect(page.locator("h1")).toBeVisible();
      await expect(page.getByRole("status").filter({ hasText: /^Loading/ })).toHaveCount(0);
      await clean(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
    }
    const to = mkdtempSync(join(tmpdir(), "compass-backup-"));
    await page.goto(`${base}/backup`);
    await page.getByLabel(/^Folder/).fill(to);
    await page.getByLabel(/^Passphrase/).fill(phrase);
    await page.getByRole("button", { name: "Save the plan" }).click();
    await expect(page.getByRole("button", { name: "Back up now" })).toBeEnabled();
    await page.getByRole("button", { name: "Back up now" }).click();
    await expect(page.getByText(/✓ Last good backup/)).toBeVisible({ timeout: 20_000 });
    await page.goto(base);
    rmSync(to, { recursive: true, force: true });
  });
});

test("a second machine follows; once it took over, the first says so and saves nothing", async ({ page }) => {
  const share = mkdtempSync(join(tmpdir(), "compass-reserve-"));
  await withShop(
    async (base) => {
      await page.goto(`${base}/backup`);
      const reserve = page.getByRole("region", { name: "A second machine" });
      await expect(reserve).toContainText("✓ It holds everything but the last seconds", { timeout: 30_000 });
      await expect(reserve).toContainText("keys are not there");
      await clean(page);
      // What promoting on the second machine leaves in the folder.
      writeFileSync(join(share, "promoted.json"), JSON.stringify({ at: new Date().toISOString(), host: "second" }));
      await expect(async () => {
        await page.reload(); // the page itself asks again every fifteen seconds
        await expect(reserve).toContainText("It took over", { timeout: 2_000 });
      }).toPass({ timeout: 40_000 });
      await page.goto(base);
      await expect(page.getByText(/work goes on at another machine/)).toBeVisible(); // at the foot of every page
      const refused = await page.request.post(`${base}/api/cases`, {
        data: { words: "It slips", vehicle: "Van", customer: "C", unit: "norrad-h4" },
      });
      expect(refused.status()).toBe(409);
      expect(await refused.text()).toContain("another machine");
    },
    ["--reserve", share],
  );
  rmSync(share, { recursive: true, force: true });
});
