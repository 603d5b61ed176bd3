// Choosing fits: by keyboard on the bench, at another place, on the spot, and with what could be bought.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, openSession, signIn } from "../helpers.js";

// One client for all of it, one thing after another.
test.describe.configure({ mode: "serial" });
const CLIENT = "Perrin Vale";

const names = async (page) => (await page.locator(".slot strong").allTextContents()).map((t) => t.trim());
const slot = (page, purpose) => page.locator(".slot", { hasText: purpose });

test("a movement is swapped by keyboard alone", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const session = page.url();
  await slot(page, "lats").getByRole("link", { name: "Swap bench" }).focus();
  await page.keyboard.press("Enter");
  await page.waitForURL(/bench/);
  const picked = page.locator(".picked h2");
  const first = await picked.textContent();
  await page.keyboard.press("n");
  await expect(picked).not.toHaveText(first);
  const second = await picked.textContent();
  // The two side by side, and apart again.
  await page.keyboard.press("b");
  await expect(page.getByRole("table", { name: "Side by side" })).toContainText(first);
  await expectAccessible(page);
  await page.keyboard.press("b");
  await expect(page.getByRole("table", { name: "Side by side" })).toHaveCount(0);
  await page.keyboard.press("p");
  await expect(picked).toHaveText(first);
  // Put aside with a reason; it is remembered, and undone.
  await page.keyboard.press("x");
  await page.keyboard.press("Tab");
  await page.keyboard.type("does not like it");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("status").filter({ hasText: "is put aside for" })).toBeVisible();
  await expect(picked).toHaveText(second);
  await page.keyboard.press("u");
  await expect(picked).toHaveText(first);
  // Why not another one?
  await page.keyboard.press("w");
  await page.keyboard.type("chin-up");
  await page.keyboard.press("Enter");
  await expect(page.locator(".because")).toContainText(/another job|ruled out|Which one/);
  await page.goBack();
  await page.keyboard.press("2");
  await expect(picked).toHaveText(second);
  await page.keyboard.press("f");
  await expect(page).toHaveURL(new RegExp(session));
  await expect(slot(page, "lats").locator("strong")).toHaveText(second);
  expect(errors).toEqual([]);
});

test("a session goes to a hotel room and back with nothing lost", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const session = page.url();
  const home = await names(page);
  const loads = await page.locator(".slot .figure").allTextContents();
  await slot(page, "lats").locator("strong").click();
  await expect(page.locator(".piece.on")).toContainText("lats");
  await page.getByRole("button", { name: "Pin this movement" }).click();
  await expect(page.getByRole("button", { name: "Pinned: let it go" })).toBeVisible();

  await page.getByLabel("Place").selectOption("Hotel room");
  await page.getByRole("button", { name: "Re-fit" }).click();
  await expect(page.getByRole("heading", { name: "Re-fit to Hotel room" })).toBeVisible();
  await expect(page.locator(".refit-slot")).toHaveCount(home.length);
  for (const name of home) await expect(page.locator(".refit-slot", { hasText: name }).first()).toBeVisible();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole("button", { name: /^Take what is chosen/ }).click();
  await expect(page.getByText("at Hotel room")).toBeVisible();
  const away = await names(page);
  expect(away).not.toEqual(home);

  // Back: what was taken at home is proposed again, and nothing of it has changed.
  await page.getByLabel("Place").selectOption("Lock house garage");
  await page.getByRole("button", { name: "Re-fit" }).click();
  await expect(page.getByText("as it was taken there before").first()).toBeVisible();
  await page.getByRole("button", { name: /^Take what is chosen/ }).click();
  await expect(page).toHaveURL(new RegExp(session));
  expect(await names(page)).toEqual(home);
  expect(await page.locator(".slot .figure").allTextContents()).toEqual(loads);
  expect(errors).toEqual([]);
});

test("the heaviest dumbbells go: room to grow and ladder change", async ({ page }) => {
  await signIn(page);
  await openSession(page, CLIENT);
  const session = page.url().split("?")[0];
  // A row on the heaviest dumbbells there are.
  const bench = await slot(page, "lats").getByRole("link", { name: "Swap bench" }).getAttribute("href");
  await page.goto(`${bench}?pick=head_down_row`);
  await page.getByRole("button", { name: /^Take/ }).click();
  await page.waitForURL(new RegExp(session));
  await expect(slot(page, "lats")).toContainText("18 kg");
  await slot(page, "lats").getByRole("link", { name: "Ladder" }).click();
  const rungs = page.locator("main table tbody tr");
  const before = await rungs.count();
  expect(before).toBeGreaterThan(3);
  await expect(page.getByText("is not in this room any more")).toHaveCount(0);
  await expectAccessible(page);
  const ladder = page.url();
  await page.goto(session);
  await page.getByRole("link", { name: CLIENT }).click();
  await page
    .getByRole("navigation", { name: "Client" })
    .getByRole("link", { name: /^Places/ })
    .click();
  await page.getByRole("link", { name: "Lock house garage" }).click();
  const heaviest = page.locator(".kit-list li", { hasText: "dumbbells" });
  await heaviest.getByRole("link", { name: /^Change/ }).click();
  await page.getByRole("textbox", { name: "Pairs" }).fill("4, 6, 8");
  await page.keyboard.press("Enter");
  await expect(page.locator(".kit-list").getByText("dumbbells 4, 6, 8 kg pairs")).toBeVisible();
  await page.goto(ladder);
  await expect(page.getByText(/18 kg is not in this room any more. Nearest: /)).toBeVisible();
  expect(await rungs.count()).toBeLessThan(before);
});

test("what would help becomes a what-if place", async ({ page }) => {
  await signIn(page);
  await openSession(page, CLIENT);
  const home = await names(page);
  const session = page.url();
  await slot(page, "upper chest").getByRole("link", { name: "Ladder" }).click();
  const offer = page.locator(".help-line").first();
  const name = (await offer.locator("strong").textContent()).trim();
  await offer.getByRole("button", { name: /^What if/ }).click();
  await expect(page.getByRole("heading", { name: `Re-fit to Lock house garage with ${name}` })).toBeVisible();
  // Only looked at: the session is where it was.
  await page.goto(session);
  await expect(page.getByText("at Lock house garage")).toBeVisible();
  expect(await names(page)).toEqual(home);
});

test("on the phone, what is taken is swapped for today", async ({ page }) => {
  const errors = collectErrors(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page);
  await openSession(page, CLIENT);
  await page.getByRole("link", { name: "Start the session" }).click();
  await page.getByRole("link", { name: "Warm: to the first set" }).click();
  const planned = await page.locator("h1").textContent();
  await page.getByRole("link", { name: "Swap", exact: true }).click();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  await page
    .getByRole("link", { name: /^taken/ })
    .first()
    .click();
  await expect(page.getByRole("button", { name: "Do this today" })).toHaveCount(3);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Do this today" }).last().click();
  await expect(page.getByText(`Instead of ${planned}`)).toBeVisible();
  await page.locator("input[name=reps]").nth(2).check({ force: true });
  await page.getByRole("button", { name: "Log set" }).click();
  await expect(page.locator(".logged tr")).toHaveCount(1);
  expect(errors).toEqual([]);
});
