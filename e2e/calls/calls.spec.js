// The morning after: all clients' calls by keyboard, and the review that tells what came of them.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

const inHand = (page) => page.evaluate(() => document.activeElement?.closest(".call")?.id ?? "");

test("calls of several clients are taken, changed, refused and undone by keyboard", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.keyboard.press("C");
  await expect(page.getByRole("heading", { name: "Calls", level: 1 })).toBeVisible();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  const told = await page.locator(".crumb .soft").textContent();
  const [lines, clients] = told.match(/\d+/g).map(Number);
  expect(lines).toBeGreaterThan(4);
  expect(clients).toBeGreaterThan(1);

  // The first client's calls are there; the next ones come into sight with the keys.
  const first = page.locator(".calls-client").first();
  const open = first.locator("[data-call]");
  const count = await open.count();
  await page.keyboard.press("ArrowDown");
  const one = await inHand(page);
  expect(one).toBe(await open.first().getAttribute("id"));

  // Taken: it moves below with its undo, and the keys are on the next call.
  await page.keyboard.press("Enter");
  await expect(open).toHaveCount(count - 1);
  await expect(first.locator(`#${one}`)).toContainText("Decided");
  await expect.poll(() => inHand(page)).not.toBe(one);
  const two = await inHand(page);
  await page.keyboard.press("u");
  await expect(open).toHaveCount(count);
  await expect(first.locator(`#${one} [data-take]`)).toBeVisible();

  // Changed: the first other way; then a call that asks for more is refused, with a word.
  await first.locator(`#${two}`).focus();
  await page.keyboard.press("1");
  await expect(open).toHaveCount(count - 1);
  const refusable = page.locator("[data-call]:has([data-refuse])").first();
  const refused = await refusable.getAttribute("id");
  await refusable.getByPlaceholder("a word on it").fill("travels next week");
  await refusable.focus();
  await page.keyboard.press("x");
  await expect(page.locator(`#${refused}`)).toContainText("refused, the same step (travels next week)");

  // On through the rest: with the keys alone the second client is reached.
  const second = page.locator(".calls-client").nth(1);
  await expect(async () => {
    await page.keyboard.press("ArrowDown");
    expect(await second.locator("[data-call]:focus").count()).toBe(1);
  }).toPass();
  const there = await second.locator("[data-call]").count();
  await page.keyboard.press("Enter");
  await expect(second.locator("[data-call]")).toHaveCount(there - 1);

  // What was refused stays refused after a reload, and the count has gone down.
  await page.reload();
  await expect(page.locator(`#${refused}`)).toContainText("refused");
  const left = Number((await page.locator(".crumb .soft").textContent()).match(/\d+/)[0]);
  expect(left).toBeLessThanOrEqual(lines - 3);
  expect(errors).toEqual([]);
});

test("the review tells what grew through the swaps, with a table behind every picture", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.getByRole("link", { name: "Perrin Vale" }).click();
  await page.getByRole("link", { name: "Review" }).click();
  await expect(page.locator(".review-story")).toContainText(/grew by \d+ %|Stands still/);
  await expect(page.locator("svg.review .mark").first()).toBeAttached();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  await page.getByText("As a table").first().click();
  const days = page.locator("details[open] tbody tr");
  expect(await days.count()).toBeGreaterThan(40);
  await expect(page.getByText(/From .*: .*Hotel room/).first()).toBeVisible();

  // A shorter time has fewer days; one that cannot be is said.
  await page.getByRole("link", { name: "4 weeks" }).click();
  await page.getByText("As a table").first().click();
  const fewer = await days.count();
  expect(fewer).toBeGreaterThan(4);
  expect(fewer).toBeLessThan(40);
  await page.goto(page.url().replace(/\?.*/, "?from=2026-05-01&until=2026-04-01"));
  await expect(page.getByRole("alert")).toContainText("before the last");

  // A set that is set aside is said so, and comes back.
  await page.getByRole("link", { name: "Strength" }).click();
  const set = page.locator(".kit-list li").first();
  await set.getByRole("button", { name: /^Set aside/ }).click();
  await expect(set).toContainText("says nothing of strength: set aside by the trainer");
  await set.getByRole("button", { name: /^Take in again/ }).click();
  await expect(set).not.toContainText("says nothing of strength");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole("link", { name: "Review" }).click();
  await expectNoSidewaysScroll(page);
  expect(errors).toEqual([]);
});
