// A week from nothing by keyboard: asked, proposed, taken, its sessions open on their boards.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

const CLIENT = "Ysolde Quarry";

test("a week is asked for, proposed and taken by keyboard", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.getByRole("link", { name: CLIENT }).first().click();
  await page.getByRole("heading", { name: CLIENT, level: 1 }).waitFor();
  await page.keyboard.press("k");
  await page.waitForURL(/\/week$/);
  await expectAccessible(page);
  // What cannot be done is said beside its day, and what was typed stays.
  const chosen = page.locator("select[name^=place_]");
  const days = await chosen.evaluateAll((all) => all.filter((s) => s.value).map((s) => s.name.slice("place_".length)));
  expect(days.length).toBeGreaterThan(0);
  const minutes = page.locator(`#f-minutes_${days[0]}`);
  await minutes.fill("soon");
  await minutes.press("Enter");
  await expect(page.locator(`#e-day_${days[0]}`)).not.toBeEmpty();
  await expect(minutes).toHaveValue("soon");
  await minutes.fill("35");
  await minutes.press("Enter");
  await page.waitForURL(/\/week\/[0-9a-f-]+$/);
  await expectAccessible(page);
  const shown = page.locator(".week-day");
  await expect(shown).toHaveCount(days.length);
  const first = await shown.first().locator("strong").allTextContents();
  expect(first.length).toBeGreaterThan(1);
  const [spent, given] = /([\d.]+) of (\d+) min/
    .exec(await shown.first().textContent())
    .slice(1)
    .map(Number);
  expect(given).toBe(35);
  expect(spent).toBeLessThanOrEqual(given);
  const name = await shown.first().locator("h2").textContent();
  // Back and forth: the same week.
  await page.reload();
  expect(await shown.first().locator("strong").allTextContents()).toEqual(first);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.keyboard.press("s");
  await page.getByRole("heading", { name: CLIENT, level: 1 }).waitFor();
  const weekday = name.trim().split(" ")[0];
  await page
    .getByRole("link", { name: new RegExp(`^${weekday}, `) })
    .first()
    .click();
  await expect(page.locator(".slot strong")).toHaveText(first);
  expect(errors).toEqual([]);
});
