import { expect, test, type APIRequestContext } from "./app";

const titled = async (request: APIRequestContext, part: string) =>
  ((await (await request.get("/api/recordings")).json()) as { id: string; title: string; case: string }[]).find((r) =>
    r.title.includes(part),
  )!;

test("a drive shows its shifts, the one that is out first, and goes into the case", async ({ page, request }) => {
  const taxi = await titled(request, "Late into");
  await page.goto(`/recordings/${taxi.id}/shifts`);
  const strip = page.getByRole("region", { name: "Shifts of this drive" });
  await expect(strip.getByRole("button", { name: /out of its window/ }).first()).toBeVisible();
  await expect(strip.locator("[aria-current=true]")).toHaveAccessibleName(/out of its window/);
  await expect(page.getByText("flare", { exact: true })).toBeVisible();
  await expect(page.locator("svg[data-shift]")).toHaveAccessibleName(/fill .* torque .* inertia .* hold/);
  // A long drive stands kind by kind, the worst first; the row has those of one kind.
  const kinds = strip.getByRole("group", { name: "Kinds of shift" });
  await expect(kinds.getByRole("button").first()).toContainText("out");
  await expect(kinds.getByRole("button", { pressed: true })).toContainText("1–2");
  await kinds.getByRole("button", { name: /^2–3/ }).click();
  await expect(strip.locator("[aria-current=true]")).toHaveAccessibleName(/Drive second to Drive third/);
  await expect(strip.getByRole("button", { name: /Drive first to Drive second/ })).toHaveCount(0);
  await kinds.getByRole("button", { name: /^1–2/ }).click();
  // Another shift by key, the table by key, both back.
  const first = await strip.locator("[aria-current=true]").getAttribute("aria-label");
  await page.keyboard.press("ArrowRight");
  await expect(strip.locator("[aria-current=true]")).not.toHaveAccessibleName(first ?? "");
  await page.keyboard.press("t");
  await expect(page.getByRole("table", { name: "All shifts" })).toBeVisible();
  await page.keyboard.press("t");
  await page.keyboard.press("ArrowLeft");
  // Held against a sound one, the drive says which clutch.
  const sound = await titled(request, "clutch E done");
  await page.getByLabel("Windows from").selectOption(sound.id);
  await expect(page.getByRole("region", { name: "Behind the shifts" })).toContainText("Clutch E bites late");
  // Against a sound one the tap tells as well.
  await expect(page.getByText("Clutch E: comes late")).toBeVisible();
  await page.getByText(/^\d+ readings$/).click();
  await expect(page.getByText(/Tap of the clutch E, driven: comes late/)).toBeVisible();
  await page.getByRole("button", { name: /Put into case/ }).click();
  await expect(page.getByText(/In the case: \d+ readings/)).toBeVisible();
  await page.getByRole("link", { name: "To the road test" }).click();
  await expect(page.getByRole("button", { name: /Shift into D2, hot: flares/ })).toBeVisible();
});

test("before and after: the difference with its bound, into the proof", async ({ page, request }) => {
  const before = await titled(request, "Late into");
  const after = await titled(request, "clutch E done");
  await request.post(`/api/recordings/${before.id}/shifts?sound=${after.id}`);
  await page.goto(`/recordings/${before.id}/shifts?with=${after.id}&sound=${after.id}`);
  const held = page.getByRole("region", { name: "Before and after" });
  await expect(held.getByText("Better", { exact: true }).first()).toBeVisible();
  await expect(held.getByRole("table", { name: /before and after/ })).toContainText("flare, rpm");
  await expect(held).toContainText("Changed between them: part (piston seal of clutch E).");
  await held.getByRole("button", { name: /Put into proof/ }).click();
  await expect(held.getByRole("status")).toContainText("In the proof");
  await page.getByRole("link", { name: "To the proof" }).click();
  await expect(page.getByLabel("Note on Repeat: Shift into D2, hot")).toHaveValue(/flare \d+ to 0 rpm, less by/);
});

test("a shudder is drawn, with how often and how deep", async ({ page, request }) => {
  const van = await titled(request, "Shudder at seventy");
  await page.goto(`/recordings/${van.id}/shifts`);
  await expect(page.getByRole("heading", { name: "The converter clutch shudders" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Shudder" }).getByRole("img")).toHaveAccessibleName(/11\.\d times a second/);
});

test("a table of another logger, without units or pressures: what cannot be told is said", async ({ page, request }) => {
  const rows = ["time [ms];turbine rpm;output shaft rpm"];
  // Two gears of the six-speed, 4.171 and 2.34 to 1, and half a second from one to the other.
  for (let i = 0; i < 600; i++) {
    const t = i / 50;
    const output = 300 + 60 * t;
    const way = Math.min(1, Math.max(0, (t - 6) / 0.5));
    rows.push(`${i * 20};${Math.round(output * (4.171 + way * (2.34 - 4.171)))};${Math.round(output)}`);
  }
  const answer = await request.post("/api/recordings?file=other.csv&unit=ombrin-s6", {
    data: Buffer.from(rows.join("\n")),
    headers: { "Content-Type": "application/octet-stream" },
  });
  const id = ((await answer.json()) as { id: string }).id;
  await page.goto(`/recordings/${id}/shifts`);
  await expect(page.getByText("From speeds alone: when oil began to fill")).toBeVisible();
  await expect(page.getByText(/Say under Traces of which case/)).toBeVisible();
});

test("live: connect, drive, record, mark, keep; codes are cleared once they are noted", async ({ page }) => {
  await page.goto("/live");
  await page.getByLabel("What is wrong with it").selectOption({ label: "clutch B never applies" });
  const began = Date.now();
  await page.getByRole("button", { name: "Connect", exact: true }).click();
  await expect(page.getByText(/Connected: stand-in for Ombrin S6/)).toBeVisible();
  test.info().annotations.push({ type: "connected in", description: `${Date.now() - began} ms` });
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await page.getByRole("radio", { name: "D", exact: true }).click();
  await page.getByLabel("Brake", { exact: true }).fill("0");
  await page.getByLabel("Throttle", { exact: true }).fill("0.6");
  await expect(page.getByLabel("Driving").getByText("Drive third")).toBeVisible({ timeout: 60_000 });
  await page.getByLabel("Note for the mark").fill("revs up");
  await page.getByRole("button", { name: /^Mark/ }).click();
  await expect(page.getByText("1 mark", { exact: true })).toBeVisible();
  // A code comes after some seconds of a wrong ratio.
  await expect(async () => {
    await page.getByRole("button", { name: "Read", exact: true }).click();
    await expect(page.getByText("P0730")).toBeVisible({ timeout: 700 });
  }).toPass({ timeout: 40_000 });
  await expect(page.getByRole("button", { name: "Clear", exact: true })).toBeDisabled();
  await page.getByRole("button", { name: "Note", exact: true }).click();
  await expect(page.getByRole("button", { name: "Clear", exact: true })).toBeEnabled();
  await page.getByRole("button", { name: "Clear", exact: true }).click();
  await expect(page.getByText("the vehicle standing")).toBeVisible();
  await page.getByLabel("Title of the recording").fill("Revs up into third");
  await page.getByRole("button", { name: "Stop and keep" }).click();
  await page.getByRole("link", { name: "Revs up into third" }).click();
  await expect(page.getByRole("heading", { name: "Revs up into third" })).toBeVisible();
  await expect(page.getByText(/Drive third was commanded and never came|clutch B does not come on/i).first()).toBeVisible();
  const id = /recordings\/(\w+)/.exec(page.url())?.[1] ?? "";
  const text = await (await page.request.get(`/api/recordings/${id}/file?as=table`)).text();
  expect(text.split("\n")[0]).toContain("Turbine speed");
  await page.goto("/live");
  await page.getByRole("button", { name: "Disconnect" }).click();
  await expect(page.getByRole("heading", { name: "Connect a vehicle" })).toBeVisible();
});

test("live over the serial line of an older vehicle: the same channels, fewer readings", async ({ page }) => {
  await page.goto("/live");
  await page.getByRole("combobox", { name: /^Line/ }).selectOption("serial");
  await page.getByRole("button", { name: "Connect", exact: true }).click();
  await expect(page.getByText(/Connected: stand-in for Ombrin S6 · XYZSTAND1N0000001 · [2-9] a second/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole("group", { name: "Channels that are watched" }).getByText("Engine speed")).toBeVisible();
  await page.getByRole("button", { name: "Read", exact: true }).click();
  await expect(page.getByText("None, stored or pending.")).toBeVisible();
  await page.getByRole("button", { name: "Disconnect" }).click();
});

test("live goes on after the line was lost, and says so meanwhile", async ({ page }) => {
  await page.goto("/live");
  await page.getByLabel("The line is no good: frames get lost, modules are busy").check();
  await page.getByRole("button", { name: "Connect", exact: true }).click();
  await expect(page.getByText(/Connected: stand-in/)).toBeVisible();
  await page.getByText(/^Channels: 9 of/).click();
  const chips = page.getByRole("group", { name: "Channels", exact: true }).getByRole("button", { pressed: false });
  for (let i = 0; i < 11; i++) {
    await chips.first().click();
    await expect(chips).toHaveCount(23 - i);
  }
  await expect(page.getByText(/^Channels: 20 of/)).toBeVisible();
  await expect(page.getByText(/asked again/)).toBeVisible({ timeout: 30_000 });
});
