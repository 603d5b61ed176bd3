// The session's board: pieces are moved, joined and dosed by keyboard, what is in the way is said, all of it is undone.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, openSession, signIn } from "../helpers.js";

test.describe.configure({ mode: "serial" });

const CLIENT = "Odalys Finch";
const names = async (page) => (await page.locator(".slot strong").allTextContents()).map((t) => t.trim());
const minutes = async (page) => Number.parseFloat(await page.locator(".clock-words .soft").first().textContent());

test("pieces are picked, moved, joined, dosed and put back by keyboard", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  await expectAccessible(page);
  const [before, time] = [await names(page), await minutes(page)];
  // A key that lays the board anew: the next one is pressed when it lies.
  const presses = async (...keys) => {
    for (const key of keys) {
      await page.evaluate(() => document.getElementById("board").setAttribute("data-before", ""));
      await page.keyboard.press(key);
      await expect(page.locator("#board:not([data-before])")).toBeVisible();
    }
  };
  const picked = page.locator(".board-picked h2");

  // The last piece goes one place earlier.
  for (let i = 1; i < before.length; i += 1) await presses("ArrowRight");
  await expect(picked).toHaveText(`Picked: ${before.at(-1)}`);
  await presses("[");
  await expect.poll(() => names(page)).toEqual([...before.slice(0, -2), before.at(-1), before.at(-2)]);
  // It and the next become a superset, which saves rests and is a seam on the table.
  const seams = await page.locator(".seam").count();
  await presses("j");
  await expect(page.locator(".seam")).toHaveCount(seams + 1);
  await expect.poll(() => minutes(page)).toBeLessThan(time);
  const joined = await minutes(page);
  // Its dose in a line; what cannot be read is said and kept.
  await page.keyboard.press("d");
  await page.keyboard.press("Control+a");
  await page.keyboard.type("4 x 8-10, loudly");
  await presses("Enter");
  await expect(page.locator("#dose-error")).toContainText("loudly");
  await expect(page.locator("#dose-line")).toBeFocused();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("4 x 8-10 @ 2-0-1-0, 2 in reserve, rest 60 s");
  await presses("Enter");
  await expect(page.locator(".piece.on")).toContainText("4 × 8–10");
  await expect.poll(() => minutes(page)).not.toBe(joined);
  await page.keyboard.press("Escape");
  // All of it is undone.
  await presses("u", "u", "u");
  await expect.poll(() => names(page)).toEqual(before);
  await expect(page.locator(".seam")).toHaveCount(seams);
  await expect.poll(() => minutes(page)).toBe(time);
  // Back and forth once more.
  await presses("U");
  await expect.poll(() => names(page)).not.toEqual(before);
  await presses("u");
  await expect.poll(() => names(page)).toEqual(before);
  expect(errors).toEqual([]);
});

test("a block whose stations are in each other's way is chosen as a whole, taken and put back", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.getByRole("link", { name: "Bramwell Tarn" }).first().click();
  await page.getByRole("link", { name: "Bar and rings" }).first().click();
  await expect(page.locator(".conflict").first()).toContainText(/s a round/);
  const [before, conflicts, time] = [await names(page), await page.locator(".conflict").count(), await minutes(page)];
  await page.keyboard.press("w");
  const offer = page.locator(".whole-offer");
  await expect(offer).toContainText(/Chosen together: \d+ s less a round/);
  await expect(offer).toContainText("stays");
  await expectAccessible(page);
  // What was offered is taken by the same key, and is one step back.
  await page.keyboard.press("w");
  await expect(page.locator(".conflict")).toHaveCount(conflicts - 1);
  await expect.poll(() => minutes(page)).toBeLessThan(time);
  expect(await names(page)).not.toEqual(before);
  await page.keyboard.press("u");
  await expect.poll(() => names(page)).toEqual(before);
  await expect(page.locator(".conflict")).toHaveCount(conflicts);
  expect(errors).toEqual([]);
});

test("a short region, a change that costs time, and the phone width", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  await expect(page.locator(".conflict").first()).toContainText(/s a round/);
  const region = await page.locator(".owed li span").first().textContent();
  await page.locator(".owed li a").first().click();
  await expect(page.getByRole("heading", { name: "A new slot" })).toBeVisible();
  await expect(page.getByRole("button", { name: new RegExp(`^${region}.*: leads`, "i") }).first()).toBeVisible();
  await page.goBack();
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await expect(page.locator(".strip")).toBeVisible();
  expect(errors).toEqual([]);
});

test("a piece is dragged onto another and back again by undo", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const before = await names(page);
  const seams = await page.locator(".seam").count();
  const lone = page.locator(".block:not(.joined) .slot.piece");
  await lone.last().dragTo(lone.first(), { targetPosition: { x: 60, y: 70 } });
  await expect(page.locator(".seam")).toHaveCount(seams + 1);
  await page.keyboard.press("u");
  await expect(page.locator(".seam")).toHaveCount(seams);
  await expect.poll(() => names(page)).toEqual(before);
  expect(errors).toEqual([]);
});

test("a partner that is not in the way is taken by one key, and given back", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const [before, time] = [await names(page), await minutes(page)];
  await expect(page.locator(".conflict")).toHaveCount(1);
  const offer = await page.locator(".conflict button").textContent();
  await page.keyboard.press("f");
  await expect(page.locator(".conflict")).toHaveCount(0);
  const saved = Number.parseFloat(/([\d.]+) min less/.exec(offer)[1]);
  await expect.poll(async () => Math.abs(time - saved - (await minutes(page)))).toBeLessThan(0.11);
  await expect.poll(() => names(page)).not.toEqual(before);
  await page.keyboard.press("u");
  await expect(page.locator(".conflict")).toHaveCount(1);
  await expect.poll(() => names(page)).toEqual(before);
  expect(errors).toEqual([]);
});
