import { expect, test, type APIRequestContext, type Page } from "@playwright/test";
import { caseId } from "./server";

/** A case of its own, so that these tests do not lean on each other. */
async function open(request: APIRequestContext, vehicle: string): Promise<string> {
  const made = await request.post("/api/cases", { data: { words: "It slips on hills", vehicle, unit: "norrad-h4", distance: "120000 km" } });
  return ((await made.json()) as { id: string }).id;
}

const side = (page: Page) => page.getByRole("complementary", { name: "Heading and suspects" });
const trail = (page: Page) => page.getByRole("complementary", { name: "Trail" });

test("the ladder says where the vehicle stands, and the checks follow it", async ({ page, request }) => {
  const id = await open(request, "Ladder van");
  await page.goto(`/cases/${id}/checks`);
  await expect(page.getByRole("region", { name: "Checks at apart" }).or(page.locator('section[aria-label="Checks at apart"]')).first()).toContainText("6 h to get there");
  await page.getByRole("button", { name: "apart", exact: true }).click();
  await expect(page.getByRole("button", { name: "apart", exact: true })).toHaveAttribute("aria-pressed", "true");
  await expect(page.locator('section[aria-label="Checks at apart"]')).toContainText("reached");
  await expect(page.locator('section[aria-label="Checks at lifted"]')).toContainText("opened up too far");
});

test("what was found at teardown turns the verdict, and withdrawing it turns it back", async ({ page, request }) => {
  const id = await open(request, "Teardown van");
  await page.goto(`/cases/${id}/teardown`);
  await expect(page.getByText("Nothing of the unit is open yet.")).toBeVisible();
  await expect(page.getByText("Seven check balls stay in the channels")).toBeVisible();
  await page.getByRole("button", { name: "apart", exact: true }).click();
  const seal = page.getByRole("group", { name: "Piston seal, direct clutch" });
  await seal.getByRole("button", { name: "hard, breaks when bent" }).click();
  await expect(seal.getByRole("button", { name: "hard, breaks when bent" })).toHaveAttribute("aria-pressed", "true");
  await expect(side(page).getByRole("button", { expanded: false }).filter({ hasText: "Direct clutch piston seal" })).toBeVisible();
  await trail(page).getByRole("button", { name: /Piston seal, direct clutch/ }).click();
  await expect(trail(page).getByText(/If this were wrong/)).toBeVisible();
  await trail(page).getByRole("button", { name: "Withdraw this reading" }).click();
  await expect(trail(page).getByText("No readings yet.")).toBeVisible();
  await expect(seal.getByRole("button", { name: "hard, breaks when bent" })).toHaveAttribute("aria-pressed", "false");
});

test("a suspect opens to its chain and to what speaks for and against it", async ({ page, request }) => {
  const id = await caseId(request, "Forestry");
  await page.goto(`/cases/${id}/checks`);
  await side(page).getByRole("button", { name: /Selector shaft seal leaks/ }).click();
  await expect(side(page).getByText("selector shaft seal hard → oil runs down the case to the pan rail → the gasket is blamed")).toBeVisible();
  await expect(side(page).getByText("speaks for it, dB")).toBeVisible();
  await expect(side(page).getByText(/One cause at a time/)).toBeVisible();
});

test("nothing known is too early to decide; a declined option is recorded as declined", async ({ page, request }) => {
  const id = await open(request, "Undecided van");
  await page.goto(`/cases/${id}/decision`);
  await expect(page.getByRole("heading", { name: /^Too early to decide/ })).toBeVisible();
  await page.getByRole("radio", { name: /^Overhaul/ }).click();
  await page.getByRole("radio", { name: "declines it" }).click();
  await page.getByLabel("Ceiling named").fill("€ 900");
  await page.getByRole("button", { name: "Record the choice" }).click();
  await expect(page.getByText(/^Declined: Overhaul/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/^Declined: Overhaul/)).toBeVisible();
});

test("a case leaves as a file and comes back the same", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  const file = await (await request.get(`/api/cases/${id}/file`)).text();
  expect(JSON.parse(file)).toMatchObject({ format: "inner-compass-case/1", unit: "norrad-h4" });
  const back = (await (await request.post("/api/files", { data: file, headers: { "Content-Type": "application/json" } })).json()) as { id: string };
  await page.goto(`/cases/${back.id}/road`);
  await expect(page.getByRole("button", { name: "D3, shift into: flares" })).toBeVisible();
});

test("settings reach the instruments: units of measure, labour rate, theme", async ({ page, request }) => {
  const id = await open(request, "Metric van");
  await page.goto("/settings");
  await page.getByLabel(/^Labour rate/).fill("many");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/not a number; accepted/)).toBeVisible();
  await page.getByLabel(/^Labour rate/).fill("96,50");
  await page.getByLabel("Pressure").selectOption("bar");
  await page.getByRole("button", { name: "Save" }).click();
  await expect.poll(async () => ((await (await request.get("/api/settings")).json()) as { labourRate: number }).labourRate).toBe(96.5);
  await page.getByRole("radio", { name: "dark, bay" }).click();
  await expect(page.locator("html")).toHaveClass(/dark/);
  await page.goto(`/cases/${id}/checks?check=line-pressure`);
  await page.getByRole("button", { name: "Read; show the steps" }).click();
  await expect(page.getByRole("textbox", { name: "D1, bar" })).toBeVisible();
  await expect(page.locator("html")).toHaveClass(/dark/);
  await page.goto("/settings");
  await page.getByLabel("Pressure").selectOption("psi");
  await page.getByLabel(/^Labour rate/).fill("84");
  await page.getByRole("button", { name: "Save" }).click();
  await expect.poll(async () => ((await (await request.get("/api/settings")).json()) as { pressure: string }).pressure).toBe("psi");
});
