import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests",
  outputDir: "results",
  timeout: 120_000,
  expect: { timeout: 30_000 },
  workers: 2,
  // A machine that is shared can starve a browser for seconds; a test that fails twice is broken. Playwright lists what
  // passed only the second time as flaky: look into it.
  retries: process.env.CI ? 1 : 0,
  fullyParallel: false,
  reporter: [["list"]],
  use: {
    baseURL: process.env.RACONTE_URL ?? "http://127.0.0.1:8420",
    viewport: { width: 1280, height: 800 },
    permissions: ["clipboard-read", "clipboard-write"],
    trace: "off",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
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
