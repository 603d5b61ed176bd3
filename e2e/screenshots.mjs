// Takes one picture of each main view of the demo into docs/screenshots.
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";
import { signIn, openSession } from "./helpers.js";

const folder = new URL("../docs/screenshots/", import.meta.url).pathname;
const browser = await chromium.launch(config.use.launchOptions);
const context = await browser.newContext({ baseURL: config.use.baseURL, viewport: config.use.viewport });
const page = await context.newPage();
const shot = (name) => page.screenshot({ path: `${folder}${name}.png` });

await signIn(page);
await shot("roster");
await page.getByRole("link", { name: "Odalys Finch" }).click();
await shot("client");
const client = page.url();
await page.getByRole("button", { name: "Dark theme" }).click();
await page.goto(`${client}/week`);
await page.getByRole("button", { name: /^Propose a week/ }).click();
await page.waitForURL(/week\/[0-9a-f-]+$/);
await shot("week");
await page.getByRole("button", { name: "Light theme" }).click();
for (const view of ["places", "aims"]) {
  await page.goto(`${client}/${view}`);
  await shot(view);
}
await page.goto("/");
await openSession(page, "Odalys Finch");
const session = page.url();
await shot("session");
await page.locator(".slot", { hasText: "middle chest" }).getByRole("link", { name: "Swap bench" }).click();
await shot("bench");
await page.goto(session);
await page.locator(".slot", { hasText: "biceps" }).getByRole("link", { name: "Ladder" }).click();
await shot("ladder");
await page.goto("/calls");
await page.keyboard.press("ArrowDown");
await shot("calls");
await page.goto("/");
await page.getByRole("link", { name: "Perrin Vale" }).click();
await page.getByRole("link", { name: "Review" }).click();
await shot("review");
await page.goto("/methods");
await shot("methods");
await page.goto(`${client}/read`);
await page
  .getByLabel("The plan")
  .fill(
    "Push day\nBench press 3 x 8-12, 2 RIR\nWeighted dips +10 kg 4 x 6-8\nA1) Lateral raise 3 x 12, 5 kg\nA2) Skull crushers 3 x 10-12, rest 60 s\nMachine chest press",
  );
await page.getByRole("button", { name: /^Read it/ }).click();
await shot("plan");
await page.goto("/");
await openSession(page, "Perrin Vale");
await page.getByLabel("Place").selectOption("Hotel room");
await page.getByRole("button", { name: "Re-fit" }).click();
await shot("refit");
await page.goto("/catalogue?region=triceps_long");
await shot("catalogue");
await page.goto("/rig?movement=band_pushdown&anchor_height=2&anchor_distance=1.3&band=loop13");
await shot("rig");
const readings = [
  [1.3, 4.9],
  [1.56, 8],
  [1.82, 10.4],
  [2.08, 12.9],
  [2.34, 14.8],
  [2.6, 17.1],
];
await page.goto(`/lab?kind=loop&rest=1.04${readings.map(([m, kg]) => `&length=${m}&kg=${kg}`).join("")}`);
await shot("lab");
await page.goto(`${client}/phone`);
await page.getByRole("button", { name: "Make and send a link" }).click();
const link = await page.getByLabel("The link", { exact: true }).inputValue();
const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, colorScheme: "dark" });
const screen = await phone.newPage();
await screen.goto(`${link}/${session.split("/").at(-1)}`);
await screen.getByRole("button", { name: "Warm: to the first set" }).click();
await screen.screenshot({ path: `${folder}train.png` });
await phone.close();
await page.setViewportSize({ width: 390, height: 844 });
await page.goto(`${session}/train`);
await page.getByRole("link", { name: "Swap", exact: true }).click();
await page
  .getByRole("link", { name: /^taken/ })
  .first()
  .click();
await shot("spot");
// A plan over eight weeks with a trip and a phase, ended again.
await page.setViewportSize({ width: 1280, height: 800 });
await page.goto(`${client}/plan`);
const start = new Date(`${await page.locator("[name=starts_on]").inputValue()}T12:00:00Z`);
const on = (days) => new Date(start.getTime() + days * 86400000).toISOString().slice(0, 10);
await page.locator("[name=trip_from_0]").fill(on(7));
await page.locator("[name=trip_until_0]").fill(on(13));
await page.locator("[name=trip_at_0]").selectOption({ index: 2 });
await page.getByRole("button", { name: /^Begin this plan/ }).click();
await page.getByRole("button", { name: "End the plan" }).waitFor();
// From Friday on its first week is open already.
const first = page.getByRole("button", { name: /^Open week 1/ });
if (await first.isVisible()) await first.click();
await shot("weeks");
await page.getByRole("button", { name: "End the plan" }).click();
await browser.close();
