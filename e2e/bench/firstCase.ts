import { test } from "@playwright/test";
import { firstCase, hands } from "../tests/firstCase";

/** A person at the counter: 200 characters a minute, 800 ms for a decision. A minute is the goal. */
const person = { stroke: 300, decision: 800 };

for (const hand of hands) {
  test(`first start to a ranked suspect at a person's pace, by ${hand}`, async ({ page }) => {
    const took = await firstCase(page, hand, person);
    console.log(`by ${hand}: ${(took / 1000).toFixed(1)} s`);
  });
}
