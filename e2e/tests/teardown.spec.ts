import { expect, test, type APIRequestContext, type Page } from "./app";

async function open(request: APIRequestContext, unit: string, access: string): Promise<string> {
  const made = await request.post("/api/cases", {
    data: { words: "It slips going into third", vehicle: "Bench van", unit, distance: "120000 km" },
  });
  const { id } = (await made.json()) as { id: string };
  await request.patch(`/api/cases/${id}`, { data: { access } });
  return id;
}

const hand = (page: Page) => page.getByRole("region", { name: "Part in hand" });
const before = (page: Page) => page.getByRole("region", { name: "Before you go on" });

/** Takes a part in hand by the list. */
async function take(page: Page, name: RegExp) {
  const list = page.getByText("All parts as a list");
  if (!(await page.getByRole("button", { name }).first().isVisible())) await list.click();
  await page.getByRole("button", { name }).first().click();
}

test("in the vehicle the work stops where access ends, and says what would be next", async ({ page, request }) => {
  const id = await open(request, "tessaly-e4t", "lifted");
  await page.goto(`/cases/${id}/teardown`);
  await take(page, /end cover gasket|^\d+ ?end cover/);
  await expect(before(page)).toContainText("Out of reach as the vehicle stands: it needs valve body off.");
  for (let i = 0; i < 12; i++) {
    const ends = page.getByText(/^Access ends here\./);
    if (await ends.isVisible()) break;
    await page.reload();
    const made = before(page).getByRole("button", { name: "Mark made" });
    if (await made.isVisible()) await made.click();
    const out = before(page).getByRole("button", { name: /to the tray/ });
    if (await ends.isVisible()) break;
    await expect(out).toBeEnabled();
    const name = await hand(page).getByRole("heading").first().textContent();
    await out.click();
    await expect(hand(page).getByRole("heading").first()).not.toHaveText(name!);
  }
  await expect(page.getByText(/^Access ends here\. Next would be the oil pan: it needs pan off/)).toBeVisible();
});

test("a trap is read and a mark made before the part goes to the tray, by keys; undo brings it back", async ({ page, request }) => {
  const id = await open(request, "norrad-h4", "unit-apart");
  await page.goto(`/cases/${id}/teardown`);
  await take(page, /direct drum44|44 ?direct drum/);
  await page.getByRole("button", { name: /parts before it are out already/ }).click();
  await expect(page.getByRole("heading", { name: /\d+ of 121 out/ })).toBeVisible();
  const tray = before(page).getByRole("button", { name: /44 to the tray/ });
  await expect(before(page)).toContainText("The bushing of the direct drum is staked.");
  await expect(tray).toBeDisabled();
  await before(page).getByRole("button", { name: "Read", exact: true }).click();
  await expect(tray).toBeEnabled();
  await page.locator("h1").click();
  await page.keyboard.press("Space");
  await expect(page.getByRole("region", { name: "Tray", exact: true })).toContainText("direct drum");
  await expect(hand(page).getByRole("heading").first()).toContainText("snap ring of the direct clutch");
  await page.keyboard.press("u");
  await expect(hand(page).getByRole("heading").first()).toContainText("direct drum");
});

test("plates measured one by one give the clearance, and a tap moves the suspects", async ({ page, request }) => {
  const id = await open(request, "norrad-h4", "unit-apart");
  const parts = (
    (await (await request.get("/api/units/norrad-h4/stack")).json()) as {
      parts: { id: string; mark: string; traps: { ref: string; on: string }[] }[];
    }
  ).parts;
  const upTo = parts.findIndex((p) => p.id === "dc-snap");
  const notes = parts
    .slice(1, upTo)
    .flatMap((p) => [
      ...p.traps.filter((t) => t.on === "out").map((t) => ({ kind: "trap", part: p.id, ref: t.ref })),
      ...(p.mark ? [{ kind: "mark", part: p.id }] : []),
      { kind: "out", part: p.id },
    ]);
  expect((await request.post(`/api/cases/${id}/bench`, { data: { notes } })).ok()).toBe(true);
  await page.goto(`/cases/${id}/teardown`);
  await take(page, /plates of the direct clutch/);
  await hand(page)
    .getByRole("button", { name: /^Plate 1 from the piston, wave/ })
    .click();
  for (const t of ["1.80", "1.78", "1.79", "1.74", "1.77", "1.76", "1.80", "1.80", "3.99"]) {
    const before = await hand(page)
      .getByText(/\d of 9 plates measured/)
      .textContent();
    await hand(page)
      .getByLabel(/^Plate \d: thickness/)
      .fill(t);
    await page.keyboard.press("Enter");
    await expect(hand(page).getByText(/\d of 9 plates measured/)).not.toHaveText(before!);
  }
  // 20.35 − (1.80 + 1.78 + 1.79 + 1.74 + 1.77 + 1.76 + 1.80 + 1.80 + 3.99) = 2.12 mm, in a window of 1.25 to 1.85 mm
  await expect(hand(page)).toContainText("2.12");
  await expect(hand(page)).toContainText("too wide by 0.27");
  const suspects = page.getByRole("region", { name: "Suspects now" });
  await expect(page.getByRole("region", { name: "Suspects now" })).toBeVisible();
  await take(page, /outer piston seal, direct clutch/);
  const before = await suspects.textContent();
  await hand(page).getByRole("button", { name: /cut$/ }).click();
  await expect(suspects).not.toHaveText(before!); // the ranking has come, before it is asked for again
  await expect(suspects).toContainText(/Direct clutch piston seal.*\d\d %/);
  const first = await suspects.textContent();
  await hand(page).getByRole("button", { name: /cut$/ }).click(); // a tap again takes it back
  await expect(suspects).not.toHaveText(first!);
});

test("the parts of a unit are seen exploded, as built and as a list", async ({ page }) => {
  await page.goto("/units/tessaly-e4t/stack");
  await expect(page.getByText(/pieces in 132 entries/)).toBeVisible();
  await page.keyboard.press("x");
  await expect(page.getByRole("radio", { name: "As built" })).toHaveAttribute("aria-checked", "true");
  const name = page.getByRole("region", { name: "Part in hand" }).getByRole("heading");
  const one = await name.textContent();
  await page.keyboard.press("ArrowRight");
  await expect(name).not.toHaveText(one!);
  await page.getByText("All parts in order, as a list").click();
  await page.getByRole("button", { name: "end cover", exact: true }).click();
  await expect(name).toContainText("end cover");
  await expect(page.getByRole("region", { name: "Part in hand" })).toContainText("The mount on this side is off: support the unit first.");
  await page.getByRole("button", { name: "2–3 shift valve", exact: true }).click();
  await expect(page.getByRole("table", { name: "2–3 shift valve" })).toBeVisible();
});

test("a part goes back once its checks are made; what is passed over is signed for, and finishing says what is open", async ({
  page,
  request,
}) => {
  const id = await open(request, "ombrin-m5", "unit-out");
  type Part = { id: string; mark: string; access: string; traps: { ref: string; on: string }[] };
  const { parts } = (await (await request.get("/api/units/ombrin-m5/stack")).json()) as { parts: Part[] };
  const notes = parts
    .slice(1)
    .filter((p) => ["lifted", "unit-out"].includes(p.access))
    .flatMap((p) => [
      ...p.traps.filter((t) => t.on === "out").map((t) => ({ kind: "trap", part: p.id, ref: t.ref })),
      ...(p.mark ? [{ kind: "mark", part: p.id }] : []),
      { kind: "out", part: p.id },
    ]);
  expect((await request.post(`/api/cases/${id}/bench`, { data: { notes } })).ok()).toBe(true);
  await page.goto(`/cases/${id}/teardown`);
  await page.getByRole("radio", { name: "Building" }).click();
  const back = page.getByRole("region", { name: "Part that goes back" });
  await expect(back.getByRole("heading").first()).toContainText("vent");
  // A seal that is never used again: renewed, or signed for with a reason.
  await page.getByText("All parts as a list").click();
  await page
    .getByRole("button", { name: /input shaft seal/ })
    .first()
    .click();
  await expect(page.getByText(/Not yet: not checked: renewed: it is never used again/)).toBeVisible();
  await back.getByRole("button", { name: /^Pass over, with a reason: renewed/ }).click();
  await back.getByLabel("Reason, signed for").fill("none to be had before the ferry");
  await back.getByRole("button", { name: "Sign", exact: true }).click();
  await expect(back).toContainText("passed over: none to be had before the ferry");
  await back.getByRole("button", { name: /^All \d done$/ }).click();
  const goes = page.getByRole("button", { name: /goes in/ });
  await expect(goes).toBeEnabled();
  await goes.click();
  await expect(page.getByText(/^1 of \d+ back$/)).toBeVisible();
  await page
    .getByRole("button", { name: /flywheel/ })
    .first()
    .click();
  await expect(back.getByRole("img", { name: /^Order of the 8 bolts/ })).toBeVisible();
  await expect(page.getByRole("region", { name: "What is still open" })).toContainText(/Open: \d+ parts, \d+ checks/);
});
