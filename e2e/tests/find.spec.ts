import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./app";
import { caseId } from "./server";

test("anything is found by the words of the trade, and opened", async ({ page, request }) => {
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "On the floor" })).toBeVisible();
  await page.keyboard.press("/");
  const field = page.getByRole("combobox", { name: "Find anything" });
  await expect(field).toBeFocused();
  const option = (name: RegExp) => page.getByRole("option", { name });
  for (const [words, found] of [
    ["minibus", /revs up going into third/],
    ["dti", /runout/i],
    ["torque convertor", /onverter/],
    ["p0741", /P0741/],
    ["transaxle", /Tessaly/],
    ["tax", /Settings: rates and tax/],
    ["pressure gauge", /pressure/i],
  ] as const) {
    await field.fill(words);
    await expect(option(found).first(), words).toBeVisible();
  }
  await field.fill("zzzz");
  await expect(page.getByText("Nothing is found by “zzzz”.")).toBeVisible();
  await field.fill("minibus");
  await expect(option(/revs up going into third/).first()).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(new RegExp(`/cases/${await caseId(request, "minibus")}`));
  await expect(page.getByRole("group", { name: "Where the vehicle stands" })).toBeVisible();
  // In a case its checks are opened in it, and its stages are a word away.
  await page.keyboard.press("Control+k");
  await field.fill("line pressure hot");
  await option(/Line pressure/)
    .first()
    .click();
  await expect(page).toHaveURL(/checks\?check=/);
  await expect(
    page
      .getByRole("button", { name: "← All checks" })
      .or(page.getByRole("heading", { name: /Line pressure/ }))
      .first(),
  ).toBeVisible();
  await page.keyboard.press("/");
  await field.fill("decision");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/decision$/);
});

test("a vehicle found is taken in again with its unit", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "Find anything" }).click();
  await page.getByRole("combobox", { name: "Find anything" }).fill("harbour");
  await page.getByRole("group", { name: "Vehicles" }).getByRole("option").first().click();
  await expect(page.getByRole("combobox", { name: /^Vehicle/ })).toHaveValue("Harbour tow tractor");
  await expect(page.getByRole("combobox", { name: /^Unit/ })).toHaveValue(/Norrad V3/);
});

test("the palette is clean for axe and gives the focus back", async ({ page }) => {
  for (const colorScheme of ["light", "dark"] as const) {
    await page.emulateMedia({ colorScheme });
    await page.goto("/units");
    await expect(page.getByRole("heading", { name: "Units", level: 1 })).toBeVisible();
    await page.keyboard.press("/");
    await page.getByRole("combobox", { name: "Find anything" }).fill("seal");
    await expect(page.getByRole("option").nth(3)).toBeVisible();
    expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("combobox", { name: "Find anything" })).toBeHidden();
  }
});
