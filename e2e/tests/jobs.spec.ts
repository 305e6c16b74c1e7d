import { readFileSync } from "node:fs";
import { expect, test, type APIRequestContext, type Page } from "./app";
import { caseId } from "./server";

interface Slot {
  bay: string;
  from: string;
  to: string;
}
interface WeekJob {
  case: string;
  vehicle: string;
  set: boolean;
  slot: Slot;
  settled: { stock: { part: string; state: string }[] };
}

async function inWeek(request: APIRequestContext, vehicle: string): Promise<WeekJob> {
  const week = (await (await request.get("/api/week")).json()) as { jobs: WeekJob[] };
  return week.jobs.find((j) => j.vehicle === vehicle)!;
}

const bar = (page: Page, vehicle: string) => page.getByRole("button", { name: new RegExp(`^${vehicle},`) });
const inHand = (page: Page) => page.getByRole("region", { name: "The job in hand" });

test("a job is moved in the week by keys, and let go", async ({ page, request }) => {
  await page.goto("/week");
  await expect(page.getByText(/^6 jobs, .* of work/)).toBeVisible();
  const before = await inWeek(request, "School minibus");
  await bar(page, "School minibus").click();
  await expect(inHand(page).getByRole("heading")).toHaveText("School minibus");
  await page.keyboard.press("ArrowRight");
  await expect.poll(async () => (await inWeek(request, "School minibus")).set).toBe(true);
  const later = await inWeek(request, "School minibus");
  expect(Date.parse(later.slot.from)).toBeGreaterThan(Date.parse(before.slot.from));
  await expect(inHand(page).getByRole("button", { name: "Let it find its own place" })).toBeEnabled();
  const other = later.slot.bay === "Bay 1" ? "ArrowDown" : "ArrowUp";
  await page.keyboard.press(other);
  await expect.poll(async () => (await inWeek(request, "School minibus")).slot.bay).not.toBe(later.slot.bay);
  await expect(bar(page, "School minibus")).toHaveAccessibleName(/set by hand/);
  await page.keyboard.press("x");
  await expect.poll(async () => (await inWeek(request, "School minibus")).set).toBe(false);
});

test("a job is dragged to another bay", async ({ page, request }) => {
  await page.goto("/week");
  const job = bar(page, "School minibus");
  const from = (await inWeek(request, "School minibus")).slot.bay;
  const box = (await job.boundingBox())!;
  const up = from === "Bay 1" ? 1 : -1;
  await page.mouse.move(box.x + 12, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(box.x + 14, box.y + 12 + up * 40, { steps: 4 });
  await page.mouse.move(box.x + 12, box.y + 12 + up * 96, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await inWeek(request, "School minibus")).slot.bay).not.toBe(from);
});

test("the week as a table and as a calendar, and the hours that it is planned by", async ({ page }) => {
  await page.goto("/week");
  await page.getByRole("button", { name: "As a table" }).click();
  await expect(page.getByRole("row")).toHaveCount(7);
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "Calendar file" }).click()]);
  const text = readFileSync(await file.path(), "utf8");
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(6);
  await page.getByRole("link", { name: "Bays, people, hours" }).click();
  const bays = page.getByLabel("Bays, one on each line");
  await expect(bays).toHaveValue("Bay 1\nBay 2\nBay 3");
  await bays.fill("Bay 1\nBay 1");
  await page.getByRole("button", { name: "Save bays and hours" }).click();
  await expect(page.getByText(/is there twice/)).toBeVisible();
  await bays.fill("Bay 1\nBay 2\nBay 3\nYard");
  await page.getByRole("button", { name: "Save bays and hours" }).click();
  await expect(page.getByText("✓ saved")).toBeVisible();
  await page.goto("/week");
  await expect(page.getByRole("group", { name: "Yard" })).toBeVisible();
});

test("from a case to its job: promise, steps, which parts to order, sheet and list", async ({ page, request }) => {
  const id = await caseId(request, "Library bus");
  await page.goto(`/cases/${id}/decision`);
  await page.getByRole("link", { name: "Job", exact: true }).click();
  await expect(page.getByText("Promise it for")).toBeVisible();
  await page.getByLabel("Work, not agreed yet").selectOption({ label: "Overhaul, valve body updated, converter replaced" });
  await expect(page.getByText("Away at the machine shop")).toBeVisible();
  const steps = page.getByRole("region", { name: "Work step by step" });
  await steps.getByText(/Unit out$/).click();
  await expect(steps.getByText(/Heavy unit\./).first()).toBeVisible();
  await page.getByRole("button", { name: "Put it in the week" }).click();
  const place = page.getByRole("link", { name: /^In the week: Bay/ });
  await expect(place).toBeVisible();
  const parts = page.getByRole("region", { name: "Parts" });
  await expect(parts.getByText(/^Order now/)).toBeVisible();
  await parts.getByRole("button", { name: /as ordered$/ }).click();
  await expect(parts.getByText(/^Order now/)).toBeHidden();
  await expect(parts.getByText("Here, or on the way")).toBeVisible();
  expect((await inWeek(request, "Library bus")).settled.stock.every((s) => s.state === "ordered")).toBe(true);
  const list = await request.get(`/api/cases/${id}/job/parts`);
  expect(await list.text()).toContain("torque converter");
  const sheet = await request.get(`/api/cases/${id}/job/sheet`);
  expect(sheet.headers()["content-type"]).toBe("application/pdf");
  await place.click();
  await expect(bar(page, "Library bus")).toBeVisible();
});

test("two who settle the same job do not overwrite each other", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  await page.goto("/week");
  await bar(page, "School minibus").click();
  const now = (await (await request.get(`/api/cases/${id}/job`)).json()) as { settled: { rev: number } };
  await page.route("**/api/week", (r) => r.abort()); // the page does not hear of it
  await page.route("**/api/events", (r) => r.abort());
  await request.put(`/api/cases/${id}/job`, {
    data: { option: "pack.DC", bay: "Bay 3" },
    headers: { "If-Match": String(now.settled.rev) },
  });
  await inHand(page).getByLabel("Bay").selectOption("Bay 1");
  await expect(page.getByRole("alert").first()).toContainText(/changed/i);
  expect((await inWeek(request, "School minibus")).slot.bay).toBe("Bay 3");
});
