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
await page.getByRole("button", { name: "Dark theme" }).click();
await shot("client-dark");
await page.getByRole("button", { name: "Light theme" }).click();
await page.goto("/");
await openSession(page, "Odalys Finch");
const session = page.url();
await shot("session");
await page.locator(".slot", { hasText: "middle chest" }).getByRole("link", { name: "Swap bench" }).click();
await shot("bench");
await page.goto(session);
await page.getByRole("link", { name: "See why and decide" }).first().click();
await shot("call");
await page.setViewportSize({ width: 390, height: 844 });
await page.goto(`${session}/train`);
await shot("train");
await browser.close();
