import { expect, test, writeDown, type APIRequestContext, type Page } from "./app";
import { firstCase, hands } from "./firstCase";

const said =
  "It slips pulling up the harbour hill and reverse takes ages to come in. There’s a puddle under the front. My brother says it's the pump.";

async function opened(request: APIRequestContext, words: string, vehicle: string): Promise<string> {
  const made = await request.post("/api/cases", { data: { words, vehicle, unit: "norrad-h4" } });
  return ((await made.json()) as { id: string }).id;
}

const words = (page: Page) => page.getByRole("region", { name: "The customer’s words" });
const interview = (page: Page) => page.getByRole("region", { name: "Interview" });

test("words are understood as they stand; nothing counts before it is taken, and what is struck comes back", async ({ page, request }) => {
  const id = await opened(request, said, "Words van");
  await page.goto(`/cases/${id}/complaint`);
  await expect(words(page).getByText("Slips · uphill")).toBeVisible();
  await expect(words(page).getByText("Slow to take up · reverse")).toBeVisible();
  await expect(words(page).getByText("Leaks · at the front")).toBeVisible();
  await expect(words(page).getByText("said by others")).toBeVisible();
  const trail = async () =>
    ((await (await request.get(`/api/cases/${id}`)).json()) as { ranking: { trail: unknown[] } }).ranking.trail.length;
  expect(await trail()).toBe(0);
  await page.keyboard.press("a");
  await expect(words(page).getByRole("button", { name: /^Take “slips/ })).toHaveAttribute("aria-pressed", "true");
  const taken = await trail();
  expect(taken).toBeGreaterThanOrEqual(4);
  await words(page)
    .getByRole("button", { name: /^Strike “puddle/ })
    .click();
  await expect(words(page).getByText("struck", { exact: true })).toBeVisible();
  expect(await trail()).toBeLessThan(taken);
  await words(page)
    .getByRole("button", { name: /^Put back “puddle/ })
    .click();
  await words(page)
    .getByRole("button", { name: /^Take “puddle/ })
    .click();
  await expect(words(page).getByText("struck", { exact: true })).toBeHidden();
  await expect.poll(trail).toBe(taken);
});

test("at most five questions, each with its reason; an answer is given anew; another is found by search", async ({ page, request }) => {
  const id = await opened(request, "It slips when it gets warm", "Question van");
  await page.goto(`/cases/${id}/complaint`);
  await page.getByRole("button", { name: /^Take/ }).first().click();
  await expect(interview(page).getByText("Interview · question 1 of at most 5")).toBeVisible();
  await expect(interview(page).getByText(/^It (parts|moves) “/)).toBeVisible();
  const first = await interview(page).getByRole("heading", { level: 3 }).innerText();
  await page.keyboard.press("1");
  await expect(interview(page).getByText("Interview · question 2 of at most 5")).toBeVisible();
  await page.keyboard.press("0");
  await expect(interview(page).getByText("left out")).toBeVisible();
  // The first is opened again and answered otherwise.
  await interview(page).getByRole("button", { name: first }).click();
  await page.keyboard.press("2");
  await expect(interview(page).getByRole("button", { name: first })).toHaveAttribute("aria-expanded", "false");
  for (let n = 3; n <= 5; n++) {
    if (!(await interview(page).getByText(`question ${n} of at most 5`).isVisible())) break;
    await page.keyboard.press("1");
    await expect(interview(page).getByText(`question ${n} of at most 5`)).toBeHidden();
  }
  await expect(interview(page).getByRole("button", { name: /^Next: / })).toBeVisible();
  const questions = page.getByRole("region", { name: "All questions" });
  await questions.getByRole("textbox", { name: "Find a question" }).fill("speedometer");
  await questions.getByRole("button", { name: "dead or jumping" }).click();
  await expect(questions.getByRole("button", { name: "dead or jumping" })).toHaveAttribute("aria-pressed", "true");
  await questions.getByRole("textbox", { name: "Find a question" }).fill("");
  await questions.getByRole("button", { name: /^lamp/ }).click();
  await expect(questions.getByRole("group", { name: "Speedometer" })).toBeVisible();
});

test("words that say nothing known are asked what they are about", async ({ page, request }) => {
  const id = await opened(request, "Please have a look at it", "Quiet van");
  await page.goto(`/cases/${id}/complaint`);
  await expect(words(page).getByText("Nothing in it is known.")).toBeVisible();
  await page.getByRole("region", { name: "All questions" }).getByRole("button", { name: "noise", exact: true }).click();
  await page.getByRole("group", { name: "Customer hears a noise" }).getByRole("button", { name: "whine or whirr" }).click();
  await expect(interview(page).getByText("question 1 of at most 5")).toBeVisible();
});

for (const hand of hands) {
  test(`from the first start of an empty shop to a ranked suspect and what to do next, by ${hand}`, async ({ page }) => {
    await firstCase(page, hand);
  });
}

test("a vehicle that was here before brings its unit", async ({ page, request }) => {
  await opened(request, "Slips", "Baker’s van");
  await page.goto("/take-in");
  await page.getByLabel(/What does the customer say/).fill("It is back");
  await page.getByRole("combobox", { name: /^Vehicle/ }).fill("baker");
  await page.getByRole("option", { name: /Baker’s van/ }).click();
  await expect(page.getByRole("combobox", { name: /^Unit/ })).toHaveValue("Norrad H4");
  await expect(page.getByText(/a return of:/)).toBeVisible();
  // Typed anew, the unit is another one.
  await writeDown(page, "Baker’s van", "six-speed");
  await expect(page.getByRole("combobox", { name: /^Unit/ })).toHaveValue("Ombrin S6");
});

test("the plan is a path that is planned again when a step is not possible here; its words say the same", async ({ page, request }) => {
  const id = await opened(request, "Revs up going into third once it’s warm", "Plan van");
  await request.post(`/api/cases/${id}/readings`, {
    data: {
      readings: [
        { finding: "road.hot.D3.shift", state: "flare", source: "seen" },
        { finding: "road.hot.D3.slips", state: "yes", source: "seen" },
      ],
    },
  });
  await page.goto(`/cases/${id}/checks`);
  const plan = page.getByRole("region", { name: "Plan" });
  await expect(plan.getByRole("heading", { name: /(One step|Two steps|Three steps), about .* of 100 get the right repair/ })).toBeVisible();
  await expect(plan.getByText("deciding now")).toBeVisible();
  await expect(plan.getByText(/the plan ends here/)).toBeVisible();
  await plan.getByText("The plan in words").click();
  await expect(plan.getByText("At the end")).toBeVisible();
  // What if the likeliest result came out: planned again, nothing noted, and back.
  await plan
    .getByRole("button", { name: /^What if: / })
    .first()
    .click();
  await expect(plan.getByText(/^What if “/)).toBeVisible();
  await expect(plan.getByText("Nothing is noted.")).toBeVisible();
  await page.keyboard.press("w");
  await expect(plan.getByText(/^What if “/)).toBeHidden();
  const first = plan.getByRole("button").first();
  const name = await first.innerText();
  await page.getByRole("button", { name: "Not possible here" }).click();
  await page.getByRole("button", { name: "no lift free" }).click();
  await expect(first).not.toHaveText(name);
  await first.click();
  await expect(page).toHaveURL(/checks\?check=/);
});

test("a way of saying that nobody knew is taught, read from then on, and refused where it would mislead", async ({ page, request }) => {
  const id = await opened(request, "It does the hula", "Hula van");
  await page.goto(`/cases/${id}/complaint`);
  await expect(words(page).getByText("Nothing in it is known.")).toBeVisible();
  await words(page).getByRole("button", { name: "This means …" }).click();
  const teach = page.getByRole("region", { name: "This means" });
  const means = async (text: string, option: RegExp) => {
    await teach.getByRole("combobox", { name: "it means" }).fill(text);
    await page.getByRole("option", { name: option }).first().click();
  };
  await teach.getByLabel("When they say").fill("in the morning");
  await means("shudder", /shudder/i);
  await teach.getByRole("button", { name: "Add it for the shop" }).click();
  await expect(teach.getByRole("alert")).toContainText("Accepted:");
  await teach.getByLabel("When they say").fill("does the hula");
  await teach.getByRole("button", { name: "Add it for the shop" }).click();
  await expect(teach).toBeHidden();
  await expect(words(page).getByRole("button", { name: "Take “does the hula”" })).toBeVisible();
  await page.goto("/settings#words");
  const table = page.getByRole("table", { name: "Words of the shop" });
  await expect(table.getByRole("row", { name: /does the hula/ })).toContainText("shudder");
  await table.getByRole("button", { name: "Remove “does the hula”" }).click();
  await expect(page.getByText("None yet.")).toBeVisible();
});

test("the plan goes into the bay on one sheet of A4, its cautions before its steps", async ({ page, request }) => {
  const id = await opened(request, "Revs up going into third once it’s warm", "Paper van");
  await request.post(`/api/cases/${id}/readings`, {
    data: { readings: [{ finding: "road.hot.D3.shift", state: "flare", source: "seen" }] },
  });
  await page.goto(`/cases/${id}/checks`);
  await page.getByRole("link", { name: "Bay sheet on paper" }).click();
  await expect(page.getByRole("heading", { name: /Revs up going into third/ })).toBeVisible();
  const step = page.getByRole("region", { name: "Step 1" });
  await expect(step.getByRole("listitem").first()).toBeVisible();
  await expect(page.getByText("Of a hundred like this")).toBeVisible();
  await expect(page.getByRole("status").filter({ hasText: /^Loading/ })).toHaveCount(0);
  const pdf = await page.pdf({ format: "A4", margin: { top: "12mm", bottom: "12mm", left: "14mm", right: "14mm" } });
  const sheets = pdf.toString("latin1").match(/\/Type\s*\/Page[^s]/g) ?? [];
  expect(sheets).toHaveLength(1);
});
