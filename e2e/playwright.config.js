import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

const chromium = ["/usr/bin/chromium", "/usr/bin/chromium-browser"].find(existsSync);

export default defineConfig({
  testDir: ".",
  outputDir: "results",
  fullyParallel: true,
  workers: 2,
  reporter: "line",
  // The whole line logs tens of sets; a slow machine with two cores needs minutes, not one.
  timeout: 240_000,
  expect: { timeout: 15_000 },
  // Journeys that lay a session anew and undo it want it to themselves: they go first.
  projects: [
    { name: "alone", testMatch: /board\/.*\.spec\.js/ },
    { name: "side by side", testIgnore: /board\//, dependencies: ["alone"] },
  ],
  use: {
    baseURL: process.env.BAVREK_ADDRESS ?? "http://127.0.0.1:8080",
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: chromium,
      chromiumSandbox: false,
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
