// Writing a plan: a session, slots read off movements of a gym, a pair that shares its kit, and the trainer's weights.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

test.describe.configure({ mode: "serial" });
const CLIENT = "Ysolde Quarry";

// A session far ahead, so that the next one stays the next.
async function planSession(page, name) {
  await page
    .getByRole("row", { name: new RegExp(CLIENT) })
    .getByRole("link")
    .first()
    .click();
  await page.waitForURL(/clients/);
  await page.keyboard.press("p");
  await page.waitForURL(/sessions\/new/);
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Day").fill("2031-05-05");
}

test("a slot is read off a gym movement, tried, added and fitted", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await planSession(page, "In place of the gym");
  await page.getByLabel("Minutes there are").fill("5");
  await page.getByRole("button", { name: "Make the session" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "between 10 and 240" })).toBeVisible();
  await expect(page.getByLabel("Name")).toHaveValue("In place of the gym");
  await page.getByLabel("Minutes there are").fill("40");
  await page.getByLabel("School it follows").selectOption({ label: "antagonist pairs" });
  await page.getByRole("button", { name: "Make the session" }).click();
  await expect(page.getByText("has no slots yet")).toBeVisible();
  // Keys are heard once the page's script has run.
  await page.waitForLoadState();
  await page.keyboard.press("a");
  await page.waitForURL(/slots\/new/);
  // The field has the focus; everything up to the fit goes by keyboard.
  await expect(page.getByLabel("In place of")).toBeFocused();
  await page.keyboard.type("seated cable row");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("In place of")).toHaveValue("Seated cable row");
  await expect(page.getByLabel("Pattern", { exact: true })).toHaveValue("close_row");
  const leads = page.locator("#leads-to");
  await expect(leads).toContainText("movements do this at Harbour hotel");
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  // A change is answered at once, and what cannot be used is said beside its field.
  const panel = page.getByRole("button", { name: /^middle trapezius and rhomboids: / });
  await panel.focus();
  await page.keyboard.press("Enter");
  await expect(panel).toHaveAccessibleName("middle trapezius and rhomboids: leads");
  await expect(panel).toBeFocused();
  await expect(leads).toContainText("middle trapezius and rhomboids 50 %");
  await page.getByText("As figures").click();
  await page.getByLabel("lats", { exact: true }).fill("2");
  await expect(page.getByRole("alert").filter({ hasText: "lats: must be between 0 and 1" })).toBeVisible();
  await page.getByLabel("lats", { exact: true }).fill("1");
  await page.getByLabel("middle trapezius and rhomboids", { exact: true }).fill("");
  await expect(leads).toContainText("lats 100 %");
  await page.getByRole("button", { name: /Add the slot/ }).click();
  await page.waitForURL(/bench/);
  await expect(page.locator("dl.facts").first()).toContainText("Seated cable row");
  await page.keyboard.press("f");
  await page.waitForURL(/\/sessions\//);
  await expect(page.locator(".slot strong")).toHaveCount(1);
  expect(errors).toEqual([]);
});

test("a second slot joins it as a pair, is changed, taken out and brought back", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page
    .getByRole("row", { name: new RegExp(CLIENT) })
    .getByRole("link")
    .first()
    .click();
  await page.getByRole("link", { name: "In place of the gym" }).click();
  await page.getByRole("link", { name: /Add a slot/ }).click();
  await page.getByLabel("In place of").fill("butterfly");
  await page.getByRole("button", { name: "Read off" }).click();
  await page.getByLabel("Done").selectOption({ index: 1 });
  await page.getByLabel("Together as").selectOption("antagonist");
  await page.getByLabel("A set ends").selectOption("last_to_failure");
  await page.getByRole("button", { name: /Add the slot/ }).click();
  await page.waitForURL(/bench/);
  await page.waitForLoadState();
  await expect(page.locator("dl.facts").first()).toContainText("last to failure");
  await page.keyboard.press("f");
  await expect(page.getByText("antagonist pair", { exact: true })).toBeVisible();
  const fly = page.locator(".slot", { hasText: "lower chest" });
  await fly.getByRole("link", { name: /Intent/ }).click();
  await page.getByLabel("Sets", { exact: true }).fill("5");
  await page.getByRole("button", { name: /Keep this intent/ }).click();
  // Only the dose changed: the movement stays, and the dose is in force.
  await page.waitForURL(/\/sessions\//);
  await expect(fly).toContainText("5 × 8–12");
  await fly.getByRole("button", { name: /Take out/ }).click();
  await expect(page.getByRole("status")).toContainText("Taken out");
  await expect(page.locator(".slot")).toHaveCount(1);
  await page.waitForLoadState();
  await page.keyboard.press("u");
  await expect(page.locator(".slot")).toHaveCount(2);
  expect(errors).toEqual([]);
});

test("weights are tried, set, seen on the bench and put back", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.goto("/weights");
  await page.getByLabel("joints").fill("3");
  await expect(page.getByRole("alert").filter({ hasText: "joints never count for less" })).toBeVisible();
  await page.getByRole("button", { name: "Weigh fits so" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "15 of a hundred or more" })).toBeVisible();
  await expect(page.getByLabel("joints")).toHaveValue("3");
  // The shares count: the usual ones, typed, weigh as usual for the other journeys.
  await page.getByLabel("joints").fill("15");
  await page.keyboard.press("Enter");
  await expect(page.getByText("your own weights")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "As usual again" }).click();
  await expect(page.getByText("as usual", { exact: true })).toBeVisible();
  expect(errors).toEqual([]);
});

test.describe("on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 } });
  test("intents, weights and gym movements read and do not scroll sideways", async ({ page }) => {
    await signIn(page);
    await page
      .getByRole("row", { name: new RegExp(CLIENT) })
      .getByRole("link")
      .first()
      .click();
    await page.getByRole("link", { name: "In place of the gym" }).click();
    await expectNoSidewaysScroll(page);
    await page
      .locator(".slot")
      .first()
      .getByRole("link", { name: /Intent/ })
      .click();
    await expectNoSidewaysScroll(page);
    for (const path of ["/weights", "/catalogue/gym", "/catalogue/gym/cable_fly"]) {
      await page.goto(path);
      await expectNoSidewaysScroll(page);
    }
  });
});
