import { expect, type APIRequestContext, type Page } from "@playwright/test";
import { spawn, type ChildProcess } from "node:child_process";

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

/** Starts the real binary on a data folder and waits until it says that it is ready. */
export async function serve(data: string, port: number): Promise<ChildProcess> {
  const child = spawn("../bin/innercompass", ["serve", "--data", data, "--addr", `127.0.0.1:${port}`], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  await new Promise<void>((ready, failed) => {
    child.stdout!.on("data", (b: Buffer) => b.toString().includes("is ready on") && ready());
    child.on("exit", (code) => failed(new Error(`the server ended with ${code}`)));
  });
  return child;
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
