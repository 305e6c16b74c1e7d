import { expect, test, writeDown, type APIRequestContext, type Page } from "./app";
import { caseOf } from "./server";

/** A four-speed whose direct clutch piston seal is as good as settled. */
async function settled(request: APIRequestContext, vehicle: string): Promise<string> {
  const made = (await (await request.post("/api/cases", { data: { words: "Revs up into third", vehicle, unit: "norrad-h4" } })).json()) as {
    id: string;
  };
  const readings = [
    ["road.hot.D3.shift", "flare", "seen"],
    ["pressure-pattern", "low-DC", "measured"],
    ["air-check.DC", "piston", "measured"],
    ["piston-seal.DC", "hard", "seen"],
    ["fluid-temperature", "usual", "measured"],
    ["pressure-rise", "rises", "measured"],
  ].map(([finding, state, source]) => ({ finding, state, source }));
  await request.post(`/api/cases/${made.id}/readings`, { data: { readings } });
  await request.patch(`/api/cases/${made.id}`, { data: { access: "unit-apart", stage: "decision" } });
  return made.id;
}

const money = (text: string | null) => Number((text ?? "").replace(/[^0-9.]/g, ""));

async function sign(page: Page) {
  const box = (await page.getByRole("img", { name: "Signature" }).boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 60);
  await page.mouse.down();
  for (let i = 1; i < 12; i++) await page.mouse.move(box.x + 40 + 14 * i, box.y + 60 + (i % 2 ? 24 : -18));
  await page.mouse.up();
}

test("an estimate adds up line by line; another price changes the order and is taken back; two stand side by side", async ({
  page,
  request,
}) => {
  const id = await settled(request, "Priced van");
  await page.goto(`/cases/${id}/decision`);
  await expect(page.getByRole("heading", { name: /^Direct clutch replaced/ }).first()).toBeVisible();
  const estimate = page.getByRole("table", { name: /^Estimate of Direct clutch replaced/ });
  const row = (name: string) =>
    estimate
      .getByRole("row", { name: new RegExp(name) })
      .getByRole("cell")
      .nth(2);
  const net = money(await row("^Sum").textContent());
  const tax = money(await row("^Tax").textContent());
  const pay = money(await row("^To pay").textContent());
  expect(Math.round(net * 20)).toBe(Math.round(tax * 100));
  expect(Math.round(100 * (net + tax))).toBe(Math.round(100 * pay));

  const first = page.getByRole("radiogroup", { name: "Repair options" }).getByRole("radio").first();
  await expect(first).toHaveAccessibleName(/^Direct clutch replaced/);
  await estimate.getByLabel(/^Price: parts: direct clutch replaced/).fill("9000");
  await expect(first).not.toHaveAccessibleName(/^Direct clutch replaced/);
  await expect(page.getByText("1 figure is set by hand.")).toBeVisible();
  await page.getByRole("button", { name: "As known" }).click();
  await expect(first).toHaveAccessibleName(/^Direct clutch replaced/);

  await page.getByLabel(/^Compare: Direct clutch replaced/).check();
  await page.getByLabel(/^Compare: Overhaul/).check();
  const both = page.getByRole("table", { name: "Two options side by side" });
  await expect(both.getByRole("row", { name: /^expected in all/ })).toBeVisible();
  const cells = both.getByRole("row", { name: /^to pay now/ }).getByRole("cell");
  expect(Math.round(100 * (money(await cells.nth(1).textContent()) - money(await cells.nth(0).textContent())))).toBe(
    Math.round(100 * money(await cells.nth(2).textContent())),
  );
  await expect(page.getByRole("table", { name: "Figures at which another option wins" }).getByRole("row").nth(1)).toBeVisible();
  await page.getByText("Change a figure and see").click();
  await page.getByLabel(/^labor, an hour/).fill("-5");
  await expect(page.getByText(/less than nothing.*Accepted: an amount/)).toBeVisible();
});

test("the customer's page is small: a phone loads nothing of the shop's app", async ({ page }) => {
  const loaded: Promise<number>[] = [];
  page.on("requestfinished", (r) => {
    if (/\.(js|css)$|\/a\//.test(new URL(r.url()).pathname)) loaded.push(r.sizes().then((s) => s.responseBodySize));
  });
  await page.goto("/a/no-such-link");
  await expect(page.getByRole("heading", { name: "This link opens nothing" })).toBeVisible();
  const bytes = (await Promise.all(loaded)).reduce((a, b) => a + b, 0);
  expect(bytes).toBeGreaterThan(20_000); // the page was loaded
  expect(bytes).toBeLessThan(90_000);
});

test("a customer answers by the link, once; a stale one cannot be approved", async ({ page, request, browser }) => {
  const id = await settled(request, "Linked van");
  await page.goto(`/cases/${id}/decision`);
  await page.getByRole("button", { name: "Make the link" }).click();
  const estimates = page.getByRole("region", { name: "Estimate for the customer" });
  const link = (await estimates.getByText(/\/a\//).textContent())!;
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const [one, two] = [await phone.newPage(), await phone.newPage()];
  await one.goto(link);
  await two.goto(link);
  await one.bringToFront(); // a page behind another draws no frames
  await expect(one.getByRole("heading", { name: "“Revs up into third”" })).toBeVisible();
  await expect(one.getByText("advised by the shop")).toBeVisible();
  await expect(one.getByRole("navigation")).toHaveCount(0);
  await one.getByText("What is in it").first().click();
  await expect(one.getByText(/^tax$/).first()).toBeVisible();
  const agree = one.getByRole("button", { name: /^Agree to it for/ });
  await expect(agree).toBeDisabled();
  await one.getByLabel("Your name").fill("A. Keeper");
  await one.getByRole("img", { name: "Signature" }).scrollIntoViewIfNeeded();
  await sign(one);
  await agree.click();
  await expect(one.getByText(/^Agreed: Direct clutch replaced/)).toBeVisible();
  await two.bringToFront();
  await two.getByLabel("Your name").fill("B. Keeper");
  await two.getByRole("button", { name: /^Agree to it for/ }).click();
  await expect(two.getByText(/Agreed: Direct clutch replaced.*/).first()).toBeVisible(); // it shows the answer that counts
  await expect(two.getByText(/A\. Keeper/)).toBeVisible();
  await expect(page.getByText(/A\. Keeper, signed/)).toBeVisible(); // without reloading

  await page.getByRole("button", { name: "Make the link" }).click();
  await expect(estimates.getByText(/\/a\//)).toHaveCount(1);
  const second = (await estimates.getByText(/\/a\//).textContent())!;
  await request.put("/api/price-table", { data: { text: "unit,item,price\nnorrad-h4,parts:pack.DC,333.33\n" } });
  await one.bringToFront();
  await one.goto(second);
  await expect(one.getByText("This offer no longer holds.")).toBeVisible();
  await expect(one.getByRole("button", { name: /^Agree/ })).toHaveCount(0);
  await one.goto(`${second}x`);
  await expect(one.getByRole("heading", { name: "This link opens nothing" })).toBeVisible();
  const book = (await (await request.get("/api/prices")).json()) as { rev: string; prices: { item: string }[] };
  await request.put("/api/prices", {
    data: { prices: book.prices.filter((p) => p.item !== "parts:pack.DC") },
    headers: { "If-Match": book.rev },
  });
  await phone.close();
});

test("a record is looked at, issued, verified and amended; a picture goes onto it", async ({ page, request }) => {
  const id = await settled(request, "Recorded van");
  await page.goto(`/cases/${id}/teardown`);
  await page.getByText("Findings by name, in words").click();
  await page.getByLabel("What the next picture shows").fill("Piston lip, hard and cut");
  const [chooser] = await Promise.all([page.waitForEvent("filechooser"), page.getByText("Add a picture").click()]);
  await chooser.setFiles("../docs/screenshots/floor-light.png");
  await expect(page.getByRole("img", { name: "Piston lip, hard and cut" })).toBeVisible();
  const [again] = await Promise.all([page.waitForEvent("filechooser"), page.getByText("Add a picture").click()]);
  await again.setFiles("package.json");
  await expect(page.getByRole("alert")).toContainText("not a picture that can be read");

  await page.goto(`/cases/${id}/decision`);
  await page.getByLabel("What was done, in the shop’s words").fill("Resealed.");
  await page.getByRole("button", { name: "Look at it first" }).click();
  const draft = page.frameLocator('iframe[title="Draft of the record"]');
  await expect(draft.getByText("A draft: it was not issued.")).toBeVisible();
  await expect(draft.getByRole("img", { name: "Piston lip, hard and cut" })).toBeVisible();
  await page.getByRole("button", { name: "Issue the record" }).click();
  await expect(page.getByText(`Record ${id}-1`, { exact: true })).toBeVisible();
  const records = (await caseOf(request, id)).records;
  const pdf = await request.get(`/api/cases/${id}/records/${records[0]!.id}/pdf`);
  expect(pdf.headers()["content-type"]).toBe("application/pdf");
  expect((await pdf.body()).subarray(0, 5).toString()).toBe("%PDF-");

  await page.getByLabel("Amends").selectOption({ label: `record ${id}-1` });
  await page.getByRole("button", { name: "Issue the record" }).click();
  await expect(page.getByRole("alert")).toContainText("why");
  await page.getByLabel("Why").fill("The distance was misread.");
  await page.getByLabel("prices", { exact: true }).check();
  await page.getByRole("button", { name: "Issue the record" }).click();
  await expect(page.getByText(/amends: The distance was misread/)).toBeVisible();

  await page.goto("/verify");
  await page.getByLabel("Digest (SHA-256)").fill(records[0]!.digest);
  await page.getByRole("button", { name: "Find it" }).click();
  await expect(page.getByRole("status").filter({ hasText: "Genuine" })).toBeVisible();
  await page.getByLabel("Digest (SHA-256)").fill(records[0]!.digest.replace(/^./, (c) => (c === "0" ? "1" : "0")));
  await page.getByRole("button", { name: "Find it" }).click();
  await expect(page.getByRole("status").filter({ hasText: "Not genuine" })).toBeVisible();
  const file = await request.get(`/api/cases/${id}/records/${records[0]!.id}/file`);
  const [open] = await Promise.all([page.waitForEvent("filechooser"), page.getByText("Open its file", { exact: true }).click()]);
  await open.setFiles({
    name: "record.json",
    mimeType: "application/json",
    buffer: Buffer.from((await file.text()).replace("Resealed.", "Released.")),
  });
  await expect(page.getByRole("status").filter({ hasText: "Not genuine" })).toBeVisible();
});

test("a return is linked when it is taken in; what was declined comes up; a recheck goes into the calendar", async ({ page, request }) => {
  const first = await settled(request, "Returning van");
  await request.post(`/api/cases/${first}/decisions`, { data: { option: "overhaul", choice: "declined" } });
  await request.put(`/api/cases/${first}/closing`, { data: { outcome: "declined" } });
  await page.goto("/take-in");
  await page.getByLabel(/What does the customer say/).fill("It is back");
  await writeDown(page, "returning van", "Norrad H4");
  await page.getByRole("radio", { name: /a return of: “Revs up into third”/ }).check();
  await page.getByRole("button", { name: "Open the case" }).click();
  await expect(page.getByText(/A return of/)).toContainText("declined then: Overhaul");
  await page.getByRole("link", { name: /^Decision/ }).click();
  await expect(page.getByText(/Declined at the visit before: Overhaul/)).toBeVisible();
  await page.getByRole("link", { name: /^Proof/ }).click();
  const recheck = page.getByRole("region", { name: "Recheck" });
  await recheck.getByLabel("or at").fill("somewhere");
  await recheck.getByRole("button", { name: "Note it" }).click();
  await expect(recheck.getByRole("alert")).toContainText("distance");
  const day = new Date(Date.now() + 40 * 86400e3).toISOString().slice(0, 10);
  await recheck.getByLabel("On", { exact: true }).fill(day);
  await recheck.getByLabel("or at").fill("90000 km");
  await recheck.getByRole("button", { name: "Note it" }).click();
  await expect(recheck.getByText(`Noted: ${day}, 90,000 km`)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent("download"), recheck.getByRole("link", { name: "For the calendar" }).click()]);
  expect(file.suggestedFilename()).toMatch(/\.ics$/);
  await page.goto("/");
  await expect(page.getByRole("link", { name: /It is back/ })).toContainText("a return");
});

test("the price book: an entry beside the guide, a table read and refused by row", async ({ page }) => {
  await page.goto("/prices");
  await page.getByRole("combobox", { name: "Unit" }).selectOption("norrad-h4");
  await page.getByRole("combobox", { name: "For", exact: true }).fill("pump parts");
  await page
    .getByRole("option", { name: /^Pump.*: parts$/ })
    .first()
    .click();
  await expect(page.getByText(/^Guide: € /)).toBeVisible();
  await page.getByRole("radio", { name: "kit" }).click();
  await page.getByLabel(/^Price, €/).fill("88,40");
  await page.getByRole("button", { name: "Put into the book" }).click();
  const table = page.getByRole("table", { name: "Prices of the shop" });
  const entry = table.getByRole("row", { name: /Norrad H4.*[Pp]ump.*: parts/ });
  await expect(entry).toContainText("€ 88.40");
  const [chooser] = await Promise.all([page.waitForEvent("filechooser"), page.getByText("Read a table").click()]);
  await chooser.setFiles({
    name: "p.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("unit,item,price\n*,fluid,9.10\n*,parts:pump,dear\n"),
  });
  await expect(page.getByRole("alert")).toContainText("row 2, price");
  await entry.getByRole("button", { name: /^Take out/ }).click();
  await expect(entry).toHaveCount(0);
});

test("a vehicle without a complaint: what may come is held against waiting, and what is due stands in the row", async ({
  page,
  request,
}) => {
  await page.goto("/take-in");
  await page.getByLabel(/^No complaint/).check();
  await writeDown(page, "Pilot truck", "Norrad H4");
  await page.getByLabel("Distance or hours").fill("150,000 km");
  await page.getByRole("button", { name: "Open the case" }).click();
  await expect(page.getByRole("heading", { name: "Pilot truck" })).toBeVisible();
  const id = page.url().split("/")[4]!;
  await request.patch(`/api/cases/${id}`, { data: { access: "unit-apart", stage: "decision" } });
  await page.goto(`/cases/${id}/decision`);
  const coming = page.getByRole("table", { name: "What may come" });
  await expect(coming.getByRole("row", { name: /^Direct clutch piston seal/ })).toContainText("do it now");
  await expect(coming.getByRole("row", { name: /^Cooler check valve/ })).toContainText("can wait");
  await expect(page.getByRole("radio").first()).toHaveAccessibleName(/^Looked over in time; also reseal the direct clutch/);
  await page.getByLabel("Look ahead").fill("500 km");
  await expect(coming.getByRole("row", { name: /^Direct clutch piston seal/ })).toContainText("can wait");
  await page.getByLabel("Look ahead").fill("soon");
  await expect(page.getByText(/"soon"/).first()).toBeVisible();
});
