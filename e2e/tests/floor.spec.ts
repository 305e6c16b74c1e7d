import { expect, test, writeDown } from "./app";
import { caseId, caseOf, loaded } from "./server";

test("nothing leaves the machine, on any view", async ({ page, request, baseURL }) => {
  const outside: string[] = [];
  page.on("request", (r) => {
    if (new URL(r.url()).origin !== baseURL && !r.url().startsWith("data:")) outside.push(r.url());
  });
  const id = await caseId(request, "minibus");
  for (const path of [
    "/",
    "/take-in",
    "/units",
    "/units/norrad-h4",
    "/settings",
    ...["complaint", "road", "checks", "teardown", "decision", "proof"].map((s) => `/cases/${id}/${s}`),
  ]) {
    await page.goto(path, { waitUntil: "load" });
    await loaded(page);
  }
  expect(outside).toEqual([]);
  expect((await request.get("/")).headers()["content-security-policy"]).toContain("default-src 'self'");
});

test("the floor filters as one types and says when nothing matches", async ({ page }) => {
  await page.goto("/");
  await expect(page.getByRole("link", { name: /School minibus/ })).toBeVisible();
  await page.getByRole("searchbox", { name: "Find a case" }).pressSequentially("fire chief");
  await expect(page.getByRole("link", { name: /Fire tender/ })).toBeVisible();
  await expect(page.getByRole("link", { name: /School minibus/ })).toBeHidden();
  await page.getByRole("searchbox", { name: "Find a case" }).pressSequentially(" nonsense");
  await expect(page.getByRole("heading", { name: "No case matches" })).toBeVisible();
});

test("two pages on one case see each other's readings", async ({ page, context, request }) => {
  const id = await caseId(request, "Harbour");
  const other = await context.newPage();
  await Promise.all([page.goto(`/cases/${id}/road`), other.goto(`/cases/${id}/road`)]);
  await page.getByRole("button", { name: /^D2, drives/ }).focus();
  await page.keyboard.press("Space");
  await expect(other.getByRole("button", { name: "D2, drives: normal" })).toBeVisible();
});

test("bad input says what would be accepted and changes nothing", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  await page.goto("/take-in");
  await page.getByLabel("What does the customer say?").fill("x");
  await page.getByRole("combobox", { name: /^Vehicle/ }).fill("y");
  await page.keyboard.press("Tab");
  await page.getByRole("button", { name: "Open the case" }).click();
  await expect(page.getByText(/Choose a unit/)).toBeVisible();
  await writeDown(page, "y", "four-speed");
  await page.getByLabel("Distance or hours").fill("far");
  await page.getByRole("button", { name: "Open the case" }).click();
  await expect(page.getByText(/Accepted: a distance such as/)).toBeVisible();
  await page.goto(`/cases/${id}/checks?check=cable-slack`);
  await page.getByRole("textbox").fill("3 parsec");
  await expect(page.getByText(/is not a unit of length/)).toBeVisible();
  await expect(page.getByRole("button", { name: /Put into case/ })).toBeDisabled();
  await page.goto("/cases/nobody/checks");
  await expect(page.getByRole("alert")).toContainText("no case");
  await page.goto("/nowhere");
  await expect(page.getByRole("heading", { name: "There is no such page" })).toBeVisible();
});

test("a check that is not possible here is set aside and can be taken back", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  await page.goto(`/cases/${id}/checks`);
  const heading = page.getByRole("heading", { name: /^Next:/ });
  const first = await heading.innerText();
  await page.getByRole("button", { name: "Not possible here" }).click();
  await page.getByRole("button", { name: "no lift free" }).click();
  await expect(heading).not.toHaveText(first);
  await expect(page.getByText("set aside: no lift free")).toBeVisible();
  await page
    .getByRole("button", { name: new RegExp(first.replace("Next: ", "")) })
    .first()
    .click();
  await page.getByRole("button", { name: "Possible after all" }).click();
  await expect(heading).toHaveText(first);
});

test("the question mark shows the keys, Escape hides them", async ({ page }) => {
  await page.goto("/");
  await expect(page.getByRole("link", { name: /School minibus/ })).toBeVisible();
  await page.keyboard.press("?");
  await expect(page.getByRole("region", { name: "Keys" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("region", { name: "Keys" })).toBeHidden();
});

test("each place has its title; the skip link leads past the places; the focus goes along", async ({ page, request }) => {
  await page.goto("/");
  await expect(page).toHaveTitle("Floor · Inner Compass");
  await page.keyboard.press("Tab");
  await expect(page.getByRole("link", { name: "Skip to the page" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.locator("#place")).toBeFocused();
  await page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "Units" }).click();
  await expect(page).toHaveTitle("Units · Inner Compass");
  await expect(page.locator("#place")).toBeFocused();
  await page.goto(`/cases/${await caseId(request, "minibus")}/road`);
  await expect(page).toHaveTitle(/^Road test, .*minibus.* · Inner Compass$/);
});

test("single keys act, until they are turned off at this device", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  const path = `/cases/${id}`;
  const trail = async () => (await caseOf(request, id)).trail.length;
  await page.goto("/settings");
  await page.getByLabel(/^Single keys act/).uncheck();
  await page.goto(`${path}/road`);
  await loaded(page);
  const before = await trail();
  await page.keyboard.press("z");
  await page.keyboard.press("3");
  await page.keyboard.press("?");
  await expect(page.getByText(/turned off at this device/)).toBeVisible();
  expect(await trail()).toBe(before);
  expect(page.url()).toContain("/road");
  await page.goto("/settings");
  await page.getByLabel(/^Single keys act/).check();
  await page.goto(`${path}/road`);
  await loaded(page);
  await page.keyboard.press("3");
  await expect(page).toHaveURL(/\/checks$/);
  await page.keyboard.press("z");
  await expect.poll(trail).toBeLessThan(before);
});

test("the Floor loads at most 190 kB of script, compressed", async ({ page }) => {
  const sizes: Promise<number>[] = [];
  page.on("requestfinished", (r) => {
    if (r.resourceType() === "script") sizes.push(r.sizes().then((s) => s.responseBodySize));
  });
  await page.goto("/");
  await expect(page.getByRole("link", { name: /School minibus/ })).toBeVisible();
  const sum = (await Promise.all(sizes)).reduce((a, b) => a + b, 0);
  test.info().annotations.push({ type: "bytes", description: String(sum) });
  expect(sum).toBeLessThanOrEqual(190_000);
  expect(sum).toBeGreaterThan(50_000); // they are counted
});
