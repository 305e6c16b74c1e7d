import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { start, stop } from "./tests/server";

/** Fills one folder with the demo; every test works on a copy of its own. */
export default async function demo() {
  const data = mkdtempSync(join(tmpdir(), "compass-demo-"));
  const server = await start(["demo", "--data", data, "--addr", "127.0.0.1:0"]);
  await stop(server.child, "SIGTERM");
  process.env.COMPASS_DEMO = data;
  return () => rmSync(data, { recursive: true, force: true });
}
