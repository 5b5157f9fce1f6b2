import { defineConfig } from "@playwright/test";

const port = Number(process.env.E2E_PORT ?? 4199);
export const BASE_URL = `http://127.0.0.1:${port}`;
export const CHROMIUM = process.env.CHROMIUM_PATH ?? "/usr/bin/chromium";

/** The built application on a private port with a private data folder; scripts/test.mjs sets both. */
export default defineConfig({
  testDir: ".",
  outputDir: "../test-results",
  workers: 2,
  fullyParallel: true,
  // For a machine that is slow or busy; nothing waits longer than it has to.
  timeout: 240_000,
  expect: { timeout: 60_000 },
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME === undefined ? "list" : [["list"], ["json"]],
  use: {
    baseURL: BASE_URL,
    viewport: { width: 1280, height: 800 },
    serviceWorkers: "block",
    trace: "retain-on-failure",
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        "--headless",
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
  webServer: {
    command: "node apps/server/dist/main.mjs",
    cwd: "..",
    url: `http://127.0.0.1:${port}/api/health`,
    timeout: 90_000,
    env: {
      ...(process.env as Record<string, string>),
      PORT: String(port),
      HOST: "127.0.0.1",
      RHEONOM_DATA: process.env.E2E_DATA ?? "/tmp/rheonom-e2e",
      RHEONOM_DEMO: "1",
    },
  },
});
