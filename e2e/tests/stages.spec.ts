import { expect, test, type APIRequestContext, type Page } from "./app";
import { caseId } from "./server";

/** A case of its own, so that these tests do not lean on each other. */
async function open(request: APIRequestContext, vehicle: string): Promise<string> {
  const made = await request.post("/api/cases", {
    data: { words: "It slips on hills", vehicle, unit: "norrad-h4", distance: "120000 km" },
  });
  return ((await made.json()) as { id: string }).id;
}

const side = (page: Page) => page.getByRole("complementary", { name: "Heading and suspects" });
const trail = (page: Page) => page.getByRole("complementary", { name: "Trail" });

test("the ladder says where the vehicle stands, and the checks follow it", async ({ page, request }) => {
  const id = await open(request, "Ladder van");
  await page.goto(`/cases/${id}/checks`);
  await expect(
    page.getByRole("region", { name: "Checks at apart" }).or(page.locator('section[aria-label="Checks at apart"]')).first(),
  ).toContainText("6 h to get there");
  await page.getByRole("button", { name: "apart", exact: true }).click();
  await expect(page.getByRole("button", { name: "apart", exact: true })).toHaveAttribute("aria-pressed", "true");
  await expect(page.locator('section[aria-label="Checks at apart"]')).toContainText("reached");
  await page.getByRole("searchbox", { name: "Search the checks" }).fill("lifted pressure");
  await expect(page.locator('section[aria-label="Checks at lifted"]')).toContainText("opened up too far");
});

test("what was found at teardown turns the verdict, and withdrawing it turns it back", async ({ page, request }) => {
  const id = await open(request, "Teardown van");
  await page.goto(`/cases/${id}/teardown`);
  await page.getByText("Findings by name, in words").click();
  await expect(page.getByText("Nothing of the unit is open yet.")).toBeVisible();
  await expect(page.getByText(/check balls stay/)).toBeVisible();
  await page.getByRole("button", { name: "apart", exact: true }).click();
  const seal = page.getByRole("group", { name: "Piston seal, direct clutch" });
  await seal.getByRole("button", { name: "hard, breaks when bent" }).click();
  await expect(seal.getByRole("button", { name: "hard, breaks when bent" })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByRole("region", { name: "Suspects now" })).toContainText("Direct clutch piston seal");
  await page.getByRole("button", { name: "Trail" }).click();
  const trail = page.getByRole("dialog");
  await trail.getByRole("button", { name: /Piston seal, direct clutch/ }).click();
  await expect(trail.getByText(/If this were wrong/)).toBeVisible();
  await trail.getByRole("button", { name: "Take back this reading" }).click();
  await expect(trail.getByText("No readings yet.")).toBeVisible();
  await trail.getByRole("button", { name: "Close" }).click();
  await expect(seal.getByRole("button", { name: "hard, breaks when bent" })).toHaveAttribute("aria-pressed", "false");
});

test("a suspect opens to its chain and to what speaks for and against it", async ({ page, request }) => {
  const id = await caseId(request, "Forestry");
  await page.goto(`/cases/${id}/checks`);
  await side(page)
    .getByRole("button", { name: /Selector shaft seal leaks/ })
    .click();
  await expect(side(page).getByText("points to it")).toBeVisible();
  await expect(side(page).getByText(/How strong a sign is and how often a cause is met is judgment/)).toBeVisible();
  await side(page).getByRole("button", { name: "Chain and reasons" }).click();
  const main = page.getByRole("main");
  await expect(main.getByText(/^Selector shaft seal leaks → pan rail/)).toBeVisible();
  await expect(main.getByRole("heading", { name: "Why Selector shaft seal leaks, and not Pan gasket leaks?" })).toBeVisible();
  await expect(main.getByText("Leak map, marked place by place").first()).toBeVisible();
  // Every box of the chain opens what the knowledge says of it; back again nothing is lost.
  await main.getByRole("link", { name: /root Selector shaft seal leaks/ }).click();
  await expect(
    page.getByRole("article", { name: "Selector shaft seal leaks" }).getByRole("link", { name: "Pan rail" }).first(),
  ).toBeVisible();
  await page.goBack();
  await main.getByRole("button", { name: "To this check" }).click();
  await expect(page.getByRole("heading", { name: "Leak map, marked place by place", exact: true })).toBeVisible();
});

test("a reading can be doubted: the ranking without it stands beside the ranking with it", async ({ page, request }) => {
  const id = await caseId(request, "tow tractor");
  await page.goto(`/cases/${id}/road`);
  await trail(page)
    .getByRole("button", { name: /Shift into D3, hot/ })
    .click();
  await trail(page).getByRole("button", { name: "Compare the rankings" }).click();
  await expect(page.getByRole("heading", { name: "What if this were wrong: Shift into D3, hot: too late?" })).toBeVisible();
  const rows = page.getByRole("table", { name: "Suspects with and without the reading" }).getByRole("row");
  expect(await rows.count()).toBeGreaterThan(4);
  await expect(rows.nth(1)).toContainText(/\d %/);
  await page.getByRole("button", { name: "← Back to the work" }).click();
  await expect(page.getByRole("button", { name: "D3, shift into: too late" })).toBeVisible();
});

test("the checks that still tell something stand by access, the others are found by their words", async ({ page, request }) => {
  const id = await open(request, "Filter van");
  await page.goto(`/cases/${id}/checks`);
  const rows = page.locator('section[aria-label^="Checks at"] button');
  await expect(rows.first()).toBeVisible();
  const telling = await rows.count();
  const [, shown, all] = (await page.getByText(/^\d+ of \d+ checks$/).innerText()).match(/^(\d+) of (\d+)/)!.map(Number);
  await expect(rows).toHaveCount(shown!);
  expect(telling).toBeLessThan(all! / 2);
  await expect(rows.first().getByRole("img", { name: /of 100 of the most telling/ })).toBeVisible();
  await page.getByRole("button", { name: "no high hazard" }).click();
  await expect(page.getByText("⚠ can hurt")).toHaveCount(0);
  expect(await rows.count()).toBeLessThan(telling);
  await page.getByRole("button", { name: "from here" }).click();
  await expect(page.locator('section[aria-label^="Checks at"]')).toHaveCount(1);
  await page.getByRole("button", { name: "from here" }).click();
  await page.getByRole("button", { name: "no high hazard" }).click();
  // British words find what is written in American ones.
  await page.getByRole("searchbox", { name: "Search the checks" }).fill("sump");
  await expect(page.getByRole("heading", { name: /^Checks found/ })).toBeVisible();
  await expect(rows.filter({ hasText: /pan/i }).first()).toBeVisible();
  await page.getByRole("searchbox", { name: "Search the checks" }).fill("nonsense words");
  await expect(page.getByRole("heading", { name: "No check fits" })).toBeVisible();
  await page.getByRole("button", { name: "Clear the search" }).click();
  await expect(rows).toHaveCount(telling);
});

test("what was seen once is looked at again, and both looks stand", async ({ page, request }) => {
  const id = await open(request, "Second look van");
  await page.goto(`/cases/${id}/checks?check=fluid-look`);
  const look = page.getByRole("group", { name: "Look and smell of the fluid" });
  await look.getByRole("button", { name: "milky" }).click();
  await expect(look.getByText("seen, saved")).toBeVisible();
  await look.getByRole("button", { name: "Look again" }).click();
  await expect(look.getByText(/second look.*milky/)).toBeVisible();
  await look.getByRole("button", { name: "clear", exact: true }).click();
  await expect(look.getByText("looked at twice; before: milky")).toBeVisible();
  await expect(look.getByRole("button", { name: "Look again" })).toHaveCount(0);
  await expect(trail(page).getByRole("button", { name: /Look and smell/ })).toHaveCount(2);
  await expect(trail(page).getByText("second look")).toBeVisible();
  // Pressing what was read takes the second look back; the first stands again.
  await look.getByRole("button", { name: "clear", exact: true }).click();
  await expect(look.getByRole("button", { name: "milky" })).toHaveAttribute("aria-pressed", "true");
});

test("codes are noted as they are read; one that says nothing is refused with what would be accepted", async ({ page, request }) => {
  const made = await request.post("/api/cases", { data: { words: "Lamp is on", vehicle: "Code van", unit: "tessaly-e4t" } });
  const id = ((await made.json()) as { id: string }).id;
  await page.goto(`/cases/${id}/checks?check=read-codes`);
  const codes = page.locator('section[aria-label="Stored codes"]');
  await codes.getByRole("textbox", { name: "Stored codes" }).fill("P0731 PX99");
  await codes.getByRole("button", { name: "Note them" }).click();
  await expect(codes.getByText(/"PX99" is not a code/)).toBeVisible();
  await expect(trail(page).getByText("No readings yet.")).toBeVisible();
  await codes.getByRole("textbox", { name: "Stored codes" }).fill("p0731, P0700");
  await codes.getByRole("button", { name: "Note them" }).click();
  await expect(trail(page).getByText(/P0731/)).toBeVisible();
  await expect(trail(page).getByText(/P0700/)).toBeVisible();
});

test("the knowledge is searched and read sentence by sentence", async ({ page }) => {
  await page.goto("/knowledge/norrad-h4");
  await page.getByRole("searchbox", { name: "Search the knowledge" }).fill("piston seal direct");
  const list = page.getByRole("navigation", { name: "Entries" });
  await list.getByRole("button", { name: /Direct clutch piston seal hardened or cut/ }).click();
  const article = page.getByRole("article");
  await expect(article.getByText(/because .*heat and years/)).toBeVisible();
  await article.getByRole("link", { name: "Direct clutch lip seal hard" }).click();
  await expect(
    page.getByRole("article", { name: "Direct clutch lip seal hard" }).locator('section[aria-label="Brought about by"]'),
  ).toContainText("Direct clutch piston seal");
  await page.getByRole("searchbox", { name: "Search the knowledge" }).fill("zzz");
  await expect(page.getByRole("heading", { name: "Nothing found" })).toBeVisible();
});

test("nothing known is too early to decide; a declined option is recorded as declined", async ({ page, request }) => {
  const id = await open(request, "Undecided van");
  await page.goto(`/cases/${id}/decision`);
  await expect(page.getByRole("heading", { name: /^Too early to decide/ })).toBeVisible();
  await page.getByLabel(/^Ceiling/).fill("900");
  await expect(page.getByText("↑ above the ceiling").first()).toBeVisible();
  await page.getByRole("radio", { name: /^Overhaul/ }).click();
  await page.getByRole("radio", { name: "declines it" }).click();
  await page.getByRole("button", { name: "Record the choice" }).click();
  await expect(page.getByText(/^Declined: Overhaul/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/^Declined: Overhaul/)).toBeVisible();
});

test("a case leaves as a file and comes back the same", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  const file = await (await request.get(`/api/cases/${id}/file`)).text();
  expect(JSON.parse(file)).toMatchObject({ format: "inner-compass-case/1", unit: "norrad-h4" });
  const back = (await (await request.post("/api/case-files", { data: file, headers: { "Content-Type": "application/json" } })).json()) as {
    id: string;
  };
  await page.goto(`/cases/${back.id}/road`);
  await expect(page.getByRole("button", { name: "D3, shift into: flares" })).toBeVisible();
});

test("settings reach the instruments: units of measure, labour rate, theme", async ({ page, request }) => {
  const id = await open(request, "Metric van");
  await page.goto("/settings");
  await page.getByLabel(/^Labor rate/).fill("many");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/"many".*not a number.*Accepted: /)).toBeVisible();
  await page.getByLabel(/^Labor rate/).fill("96,50");
  await expect(page.getByText("= € 96.50")).toBeVisible();
  await page.getByRole("radiogroup", { name: "Pressure" }).getByRole("radio", { name: "bar" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect.poll(async () => ((await (await request.get("/api/settings")).json()) as { labourRate: string }).labourRate).toBe("96.5");
  await page.getByRole("radio", { name: "dark, bay" }).click();
  await expect(page.locator("html")).toHaveClass(/dark/);
  await page.goto(`/cases/${id}/checks?check=line-pressure`);
  await page.getByRole("button", { name: "Read; show the steps" }).click();
  await expect(page.getByRole("textbox", { name: "D1, bar" })).toBeVisible();
  await expect(page.locator("html")).toHaveClass(/dark/);
  await page.goto("/settings");
  await page.getByRole("radiogroup", { name: "Pressure" }).getByRole("radio", { name: "psi" }).click();
  await page.getByLabel(/^Labor rate/).fill("84");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect.poll(async () => ((await (await request.get("/api/settings")).json()) as { pressure: string }).pressure).toBe("psi");
});
