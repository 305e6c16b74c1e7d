import { expect, type Page } from "@playwright/test";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serve, stop } from "./server";

export const hands = ["keyboard", "touch"] as const;

/** How long a person takes over one key and over one decision, in ms. */
export interface Pace {
  stroke: number;
  decision: number;
}

/**
 * From the first start of an empty shop to a ranked suspect and what to do next, with a server of its own.
 * It returns how long that took, in ms, from the moment the first field can be typed in.
 */
export async function firstCase(page: Page, hand: (typeof hands)[number], pace: Pace = { stroke: 0, decision: 0 }): Promise<number> {
  const data = mkdtempSync(join(tmpdir(), "compass-first-"));
  const server = await serve(data);
  try {
    await page.goto(server.url);
    return await walk(page, hand, pace);
  } finally {
    await stop(server.child, "SIGTERM");
    rmSync(data, { recursive: true, force: true });
  }
}

async function walk(page: Page, hand: (typeof hands)[number], { stroke, decision }: Pace): Promise<number> {
  const keys = hand === "keyboard";
  const think = () => new Promise((done) => setTimeout(done, decision));
  const type = (text: string) => page.keyboard.type(text, { delay: stroke });
  const interview = page.getByRole("region", { name: "Interview" });
  const words = page.getByRole("region", { name: "The customer’s words" });

  await expect(page.getByRole("textbox", { name: "Name of the shop" })).toBeFocused();
  const start = Date.now();
  await type("Hill Road");
  await think();
  if (keys) await page.keyboard.press("Enter");
  else await page.getByRole("button", { name: "Save and go on" }).click();

  const take = page.getByRole("button", { name: "Take in the first vehicle" });
  await (keys ? expect(take).toBeFocused() : expect(take).toBeVisible());
  await think();
  if (keys) await page.keyboard.press("Enter");
  else await take.click();

  await page.getByLabel(/What does the customer say/).click();
  await type("It slips hot and reverse takes ages. Puddle under the front.");
  await think();
  if (keys) await page.keyboard.press("Tab");
  else await page.getByRole("combobox", { name: /^Vehicle/ }).click();
  await type("Mail van 9");
  await think();
  if (keys) {
    await page.keyboard.press("Escape");
    await page.keyboard.press("Tab");
  } else await page.getByRole("combobox", { name: /^Unit/ }).click();
  await type("H4");
  const unit = page.getByRole("option", { name: /Norrad H4/ });
  await expect(unit).toBeVisible();
  await think();
  if (keys) await page.keyboard.press("Enter");
  else await unit.click();
  await expect(unit).toBeHidden();
  await think();
  if (keys) await page.keyboard.press("Enter");
  else await page.getByRole("button", { name: "Open the case" }).click();

  await expect(words.getByText("Slips · hot")).toBeVisible();
  await think();
  if (keys) await page.keyboard.press("a");
  else await page.getByRole("button", { name: /^Take all/ }).click();
  for (let n = 1; n <= 5; n++) {
    const asked = interview.getByText(`question ${n} of at most 5`);
    await expect(asked.or(interview.getByRole("button", { name: /^Next: / })).first()).toBeVisible();
    if (!(await asked.isVisible())) break;
    await think();
    if (keys) await page.keyboard.press("1");
    else await interview.locator("button[aria-pressed]").first().click();
    await expect(asked).toBeHidden();
  }
  await expect(page.getByRole("complementary", { name: "Heading and suspects" }).getByText(/%/).first()).toBeVisible();
  await expect(interview.getByRole("button", { name: /^(Next|Enough asked): / })).toBeVisible();
  return Date.now() - start;
}
