import { expect, type APIRequestContext, type Page } from "@playwright/test";
import { spawn, type ChildProcess } from "node:child_process";
import { wholeCase, type Case } from "../../web/src/api/caseParts";
import type { Schemas } from "../../web/src/api/client";

/** The id of the first case whose vehicle has this word in its name. */
export async function caseId(request: APIRequestContext, vehicle: string): Promise<string> {
  for (const closed of [false, true]) {
    const q = new URLSearchParams({ q: vehicle, closed: String(closed) });
    const page = (await (await request.get(`/api/cases?${q}`)).json()) as { items: { id: string; vehicle: string }[] };
    const found = page.items.find((c) => c.vehicle.includes(vehicle));
    if (found) return found.id;
  }
  throw new Error(`no case of ${vehicle}`);
}

/** A case as the page holds it. */
export async function caseOf(request: APIRequestContext, id: string, base = ""): Promise<Case> {
  return wholeCase((await (await request.get(`${base}/api/cases/${id}`)).json()) as Schemas["Case"]);
}

export interface Server {
  child: ChildProcess;
  url: string;
  port: number;
}

/** Starts the real binary and waits until it says where it is ready. */
export async function start(args: string[]): Promise<Server> {
  const child = spawn("../bin/innercompass", [...args, "--log-level", "warn"], { stdio: ["ignore", "pipe", "inherit"] });
  const url = await new Promise<string>((ready, failed) => {
    let said = "";
    child.stdout.on("data", (b: Buffer) => {
      said += b.toString();
      const at = /is ready on (http:\S+)\n/.exec(said);
      if (at) ready(at[1]!);
    });
    child.on("exit", (code) => failed(new Error(`the server ended with ${code}`)));
  });
  return { child, url, port: Number(new URL(url).port) };
}

/** A server on a data folder, at a port that is free, or at the one that it had before. */
export const serve = (data: string, port = 0, ...more: string[]) =>
  start(["serve", "--data", data, "--addr", `127.0.0.1:${port}`, ...more]);

/** The settings of the shop as they are saved: without what only the answer has. */
async function savedSettings(request: APIRequestContext) {
  const all = (await (await request.get("/api/settings")).json()) as Record<string, unknown>;
  const { rev } = all as { rev: number };
  const input = Object.fromEntries(Object.entries(all).filter(([k]) => !["people", "styles", "systems", "customers", "rev"].includes(k)));
  return { rev, input };
}

/** Changes some of the settings; it returns those of before. */
export async function changeSettings(request: APIRequestContext, change: Record<string, unknown>) {
  const { rev, input } = await savedSettings(request);
  const answer = await request.put("/api/settings", { data: { ...input, ...change }, headers: { "If-Match": String(rev) } });
  expect(answer.ok()).toBe(true);
  return input;
}

/** Waits until a view has everything that it asked for. */
export async function loaded(page: Page) {
  await expect(page.locator("main").first()).toBeVisible();
  await expect(page.getByRole("status").filter({ hasText: /^Loading/ })).toHaveCount(0);
}

export async function stop(child: ChildProcess, signal: NodeJS.Signals) {
  const gone = new Promise((done) => child.removeAllListeners("exit").on("exit", done));
  child.kill(signal);
  await gone;
}

/** Presses Tab until the focus is on what is wanted: the way of someone without a mouse. */
export async function tabTo(page: Page, name: RegExp, most = 150) {
  for (let i = 0; i < most; i++) {
    const text = await page.evaluate(() => {
      const e = document.activeElement as HTMLElement | null;
      if (!e || e === document.body) return "";
      const label = (e as HTMLInputElement).labels?.[0]?.innerText ?? "";
      return [e.getAttribute("aria-label"), label, e.innerText].filter(Boolean).join(" ");
    });
    if (name.test(text)) return;
    await page.keyboard.press("Tab");
  }
  expect(null, `Tab never reached ${name}`).not.toBeNull();
}
