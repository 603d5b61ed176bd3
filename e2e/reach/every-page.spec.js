import { expect, test } from "@playwright/test";
import { told, violations } from "../access.js";
import { signIn } from "../helpers.js";
import { crawl, starts } from "./pages.js";

// What is wrong with the page as it is, by any rule and of any impact.
async function wrong(page, rules) {
  return (await violations(page, rules)).map(told);
}

const PHONE = { width: 390, height: 844 };
const SMALL_PHONE = { width: 320, height: 640 };

// How wide the page is where it is wider than its window.
async function spilled(page) {
  const [content, window] = await page.evaluate(() => [document.documentElement.scrollWidth, innerWidth]);
  return content > window ? [`${content} wide in ${window}`] : [];
}

// Sixty pages, each looked at several times: on a slow machine that takes minutes.
test.describe.configure({ timeout: 900_000 });

test("every kind of page keeps every rule of access, in the light and in the dark", async ({ page }) => {
  await signIn(page);
  const all = await crawl(page, await starts(page));
  expect(all.size).toBeGreaterThan(40);
  const found = {};
  for (const [kind, address] of all) {
    await page.emulateMedia({ colorScheme: "light" });
    await page.goto(address);
    const light = await wrong(page);
    await page.evaluate(() => document.documentElement.setAttribute("data-bs-theme", "dark"));
    const dark = await wrong(page, ["color-contrast"]);
    if (light.length + dark.length > 0) {
      found[kind] = { light, dark };
    }
  }
  expect(found).toEqual({});
});

test("every kind of page fits a phone, with what is touched large enough", async ({ browser, baseURL }) => {
  const context = await browser.newContext({ baseURL, viewport: PHONE, hasTouch: true });
  const page = await context.newPage();
  await signIn(page);
  const all = await crawl(page, await starts(page));
  expect(all.size).toBeGreaterThan(40);
  const found = {};
  for (const [kind, address] of all) {
    await page.setViewportSize(PHONE);
    await page.goto(address);
    const problems = await wrong(page, ["target-size", "label-content-name-mismatch"]);
    problems.push(...(await spilled(page)));
    // On the narrowest phone more has to scroll, as it does on a wider one with longer words and larger numbers.
    await page.setViewportSize(SMALL_PHONE);
    problems.push(...(await wrong(page, ["scrollable-region-focusable"])), ...(await spilled(page)));
    if (problems.length > 0) {
      found[kind] = problems;
    }
  }
  expect(found).toEqual({});
  await context.close();
});
