// A session dosed and laid as a school does: proposed, reviewed, taken as one change, undone.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, openSession, signIn } from "../helpers.js";

test("a session takes the doses and pairs of a school, and gives them back", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.keyboard.press("m");
  await expect(page.getByRole("heading", { name: "Methods", level: 1 })).toBeVisible();
  await expect(page.locator(".schools article")).toHaveCount(9);
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });

  await page.goto("/");
  await openSession(page, "Bramwell Tarn");
  const before = await page.locator(".slot").allTextContents();
  const seams = await page.locator(".seam").count();
  await page.keyboard.press("h");
  await page.getByLabel("School").selectOption("antagonist_pairs");
  await expect(page).toHaveURL(/method=antagonist_pairs/);
  await expectAccessible(page);
  // What is in doubt is not ticked: the first line that is.
  const ticked = page.locator('.school-lines tbody tr:has(input[name^="dose-"]:checked)').first();
  const proposed = await ticked.locator("b").textContent();
  const slot = (await ticked.locator("input").getAttribute("name")).replace("dose-", "slot-");
  await page.keyboard.press("g");
  await expect(page.locator(".board")).toBeVisible();
  await expect(page.locator(`#${slot}`)).toContainText(proposed.trim().split(",")[0]);
  await expect(page.locator(".seam", { hasText: "antagonist pair" })).not.toHaveCount(0);
  await expect(page.getByText("antagonist pairs")).toBeVisible();
  await page.keyboard.press("u");
  await expect.poll(() => page.locator(".seam").count()).toBe(seams);
  await expect.poll(() => page.locator(".slot").allTextContents()).toEqual(before);
  expect(errors).toEqual([]);
});
