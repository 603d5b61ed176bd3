// How fast the main screens of the demo appear: the server's answer, the first paint and the loaded page, in milliseconds after the
// click, each the median of several visits with a warm cache. Prints a row per screen, the slowest first, and the median of all.
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";
import { openSession, signIn } from "./helpers.js";

const VISITS = Number(process.env.BAVREK_VISITS ?? 5);
const browser = await chromium.launch(config.use.launchOptions);
const context = await browser.newContext({ baseURL: config.use.baseURL, viewport: config.use.viewport });
const page = await context.newPage();
const path = () => new URL(page.url()).pathname;

await signIn(page);
await page.getByRole("link", { name: "Odalys Finch" }).click();
const client = path();
await page.goto("/");
await openSession(page, "Odalys Finch");
const session = path();
const slot = await page.getByRole("link", { name: "Swap bench" }).first().getAttribute("href");
const line = slot.replace(/\/bench.*/, "");

const screens = [
  ["Roster", "/"],
  ["Client", client],
  ["Profile", `${client}/profile`],
  ["Health", `${client}/health`],
  ["Limits", `${client}/limits`],
  ["Places", `${client}/places`],
  ["Aims", `${client}/aims`],
  ["Strength", `${client}/strength`],
  ["Review", `${client}/review`],
  ["Week", `${client}/week`],
  ["Plan", `${client}/plan`],
  ["Session", session],
  ["Swap bench", slot],
  ["Ladder", `${line}/ladder`],
  ["Train", `${session}/train`],
  ["Calls", "/calls"],
  ["Catalogue", "/catalogue"],
  ["Set-up", "/rig?movement=band_pushdown"],
  ["Methods", "/methods"],
  ["Templates", "/templates"],
  ["Lab", "/lab"],
  ["Outbox", "/outbox"],
  ["Account", "/account"],
];

const median = (all) => all.sort((a, b) => a - b)[Math.floor(all.length / 2)];

// A click on a link that leads there, from a page that is small.
async function visit(address) {
  await page.goto("/outbox");
  await page.evaluate((to) => {
    const link = document.createElement("a");
    link.href = to;
    link.id = "measured";
    link.textContent = "there";
    document.body.prepend(link);
  }, address);
  await page.locator("#measured").click();
  await page.waitForURL((url) => url.pathname + url.search === address);
  await page.waitForFunction(
    () =>
      performance.getEntriesByType("navigation")[0].loadEventEnd > 0 &&
      performance.getEntriesByName("first-contentful-paint").length,
  );
  return page.evaluate(() => {
    const [at] = performance.getEntriesByType("navigation");
    const [paint] = performance.getEntriesByName("first-contentful-paint");
    return { server: at.responseStart - at.requestStart, paint: paint.startTime, loaded: at.loadEventEnd };
  });
}

const rows = [];
for (const [name, address] of screens) {
  await visit(address);
  const seen = [];
  for (let i = 0; i < VISITS; i += 1) {
    seen.push(await visit(address));
  }
  const of = (what) => Math.round(median(seen.map((s) => s[what])));
  rows.push({ name, server: of("server"), paint: of("paint"), loaded: of("loaded") });
}
await browser.close();
rows.sort((a, b) => b.loaded - a.loaded);
console.log(["screen".padEnd(14), "server", "paint", "loaded"].join("  "));
for (const row of rows) {
  const figures = [row.server, row.paint, row.loaded].map((n) => String(n).padStart(6));
  console.log([row.name.padEnd(14), ...figures].join("  "));
}
console.log(
  `median of ${rows.length}: ${median(rows.map((r) => r.paint))} painted, ${median(rows.map((r) => r.loaded))} loaded`,
);
