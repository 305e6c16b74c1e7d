import { defineConfig } from "@playwright/test";

// Every test has a server, a data folder and a port of its own (tests/app.ts): none waits for another.
export default defineConfig({
  testDir: "tests",
  globalSetup: "./demo.ts",
  fullyParallel: true,
  workers: 2,
  timeout: 150_000, // a machine that is busy takes three times as long as a quiet one
  expect: { timeout: 20_000 },
  reporter: "list",
  forbidOnly: !!process.env.CI,
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
