import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./app";
import { caseId, loaded } from "./server";

const views = [
  "/",
  "/?q=nothing-here",
  "/take-in",
  "/units",
  "/units/norrad-h4",
  "/units/norrad-h4/faults",
  "/units/vantrice-t10/faults?fault=leaks:drum-rings&fault=leaks:drum-bushing",
  "/units/tessaly-e4t/controls",
  "/units/ombrin-m5/controls",
  "/units/norrad-h4/oil",
  "/units/tessaly-p5/side",
  "/units/norrad-h4/limits",
  "/units/norrad-h4/sheet",
  "/units/new",
  "/units/build",
  "/units/build/DRAFT",
  "/units/any-automatic-6/faults",
  "/settings",
  "/prices",
  "/verify",
  "/a/no-such-link",
  "/instruments/fluid-look",
  "/instruments/fluid-spoilt?unit=norrad-h4",
  "/instruments",
  "/instruments?q=nothing-here",
  "/instruments/stack-clearance?unit=norrad-h4&part=DC",
  "/instruments/line-curve?unit=norrad-h4",
  "/instruments/line-pressure?unit=norrad-h4",
  "/instruments/bolt-circle",
  "/instruments/leak-map?unit=norrad-h4",
  "/instruments/debris",
  "/instruments/fluid-report",
  "/instruments/fluid-level?unit=norrad-h4",
  "/instruments?case=ID",
  "/instruments/window?case=ID&part=end-play",
  "/recordings",
  "/recordings/new",
  "/recordings/VAN",
  "/recordings/VAN/turns",
  "/recordings/TAXI/shifts",
  "/live",
  "/knowledge/norrad-h4",
  "/knowledge/norrad-h4/cause/piston-seal.DC",
  "/knowledge/norrad-h4?q=nothing-here",
  "/cases/ID/checks?why=piston-seal.DC",
  "/cases/ID/checks?whatif=none",
  "/cases/ID/complaint",
  "/cases/ID/road",
  "/cases/ID/checks",
  "/cases/ID/checks?check=line-pressure",
  "/cases/ID/checks?check=cable-slack",
  "/cases/ID/teardown",
  "/units/norrad-h4/stack",
  "/cases/ID/decision",
  "/cases/ID/job",
  "/week",
  "/cases/ID/proof",
  "/cases/nobody",
];

/** The views in shares, so that they are read side by side. */
const shares = [0, 1, 2, 3, 4].map((k) => views.filter((_, i) => i % 5 === k));

// Read at rest: a button that has just come alive passes through weaker colours for a fifth of a second.
test.use({ contextOptions: { reducedMotion: "reduce" } });

for (const theme of ["light", "dark"]) {
  for (const [n, some] of Object.entries(shares)) {
    test(`axe finds nothing, ${theme}, share ${n} of the views`, async ({ page, request }) => {
      test.setTimeout(180_000); // each view is loaded anew and read in full
      const id = await caseId(request, "minibus");
      await page.addInitScript((t) => localStorage.setItem("inner-compass.theme", t), theme);
      const found: string[] = [];
      for (const view of some) {
        const draft = view.includes("DRAFT")
          ? ((await (await request.post("/api/drafts", { data: { kind: "automatic", scheme: "two-suns-4" } })).json()) as { id: string }).id
          : "";
        const titled = async (part: string) =>
          ((await (await request.get("/api/recordings")).json()) as { id: string; title: string }[]).find((r) => r.title.includes(part))!
            .id;
        const van = view.includes("VAN") ? await titled("sixth") : view.includes("TAXI") ? await titled("Late into") : "";
        await page.goto(
          view
            .replace("DRAFT", draft)
            .replace(/VAN|TAXI/, van)
            .replace("ID", id),
          { waitUntil: "load" },
        );
        await loaded(page);
        // The builder and a recording keep much folded; it is read as well.
        if (draft || van) await page.evaluate(() => document.querySelectorAll("details").forEach((d) => (d.open = true)));
        const { violations } = await new AxeBuilder({ page }).options({ resultTypes: ["violations"] }).analyze();
        found.push(
          ...violations.map(
            (v) =>
              `${view}: ${v.id}: ${v.nodes
                .slice(0, 2)
                .map((n) => n.target.join(" "))
                .join(" | ")}`,
          ),
        );
      }
      expect(found).toEqual([]);
    });
  }
}

test("axe finds nothing on a tablet, drawers open", async ({ page, request }) => {
  const id = await caseId(request, "minibus");
  await page.setViewportSize({ width: 820, height: 1180 });
  await page.goto(`/cases/${id}/road`);
  await page.getByRole("button", { name: "Heading and suspects" }).click();
  await expect(page.getByRole("heading", { name: /^Next:/ })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).options({ resultTypes: ["violations"] }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.target.join(" ")}`)).toEqual([]);
});
