// A session from nothing by keyboard, paired with its conflict, cut to its minutes, undone; and a plan from elsewhere.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

test.describe.configure({ mode: "serial" });

const CLIENT = "Odalys Finch";
const minutes = async (page) => Number.parseFloat(await page.locator(".clock-words .soft").first().textContent());

async function openClient(page) {
  await signIn(page);
  await page.getByRole("link", { name: CLIENT }).first().click();
  await expect(page.getByRole("heading", { name: CLIENT })).toBeVisible();
}

test("a session is built, paired, cut and undone in under forty keys", async ({ page }) => {
  const errors = collectErrors(page);
  await openClient(page);
  let keys = 0;
  const press = async (...pressed) => {
    for (const key of pressed) {
      keys += 1;
      await page.keyboard.press(key);
    }
  };
  // A key that leads to another page, or lays the board anew: the next one is pressed when that is there.
  const goes = async (key, address) => {
    await press(key);
    await page.waitForURL(address);
    await page.waitForLoadState();
  };
  const lays = async (key) => {
    await page.evaluate(() => document.getElementById("board").setAttribute("data-before", ""));
    await press(key);
    await expect(page.locator("#board:not([data-before])")).toBeVisible();
  };

  await goes("p", /sessions\/new$/);
  await expect(page.locator("input:focus")).toBeVisible();
  await press("Q");
  await goes("Enter", /sessions\/[0-9a-f-]+$/);
  const pieces = page.locator(".slot.piece");
  for (let i = 1; i <= 4; i += 1) {
    await goes("1", /slots\/new\?region=/);
    await goes("s", /bench$/);
    await goes("f", /pick=/);
    await expect(pieces).toHaveCount(i);
  }
  const [long, built] = [await minutes(page), await pieces.locator("strong").allTextContents()];
  // The first two by turns: what that costs a round is said, and the step that spares it is one key away.
  await lays("j");
  await expect(page.locator(".seam")).toHaveCount(1);
  // Cut to twenty minutes, as one change.
  await goes("b", /shorten$/);
  await press("i", "Control+a", "2", "0");
  await goes("Enter", /minutes=20/);
  await expect(page.locator(".figure").first()).toContainText(/to (1\d|20)(\.\d)? min/);
  await expectAccessible(page);
  await goes("g", /sessions\/[0-9a-f-]+$/);
  await expect.poll(() => minutes(page)).toBeLessThanOrEqual(20);
  // All of it is undone: the cut and the pair.
  await lays("u");
  await lays("u");
  await expect(page.locator(".seam")).toHaveCount(0);
  await expect.poll(() => minutes(page)).toBe(long);
  expect(await pieces.locator("strong").allTextContents()).toEqual(built);
  expect(keys).toBeLessThan(40);
  // It leaves no trace for others.
  await page.getByRole("link", { name: "Change" }).click();
  await page.getByRole("button", { name: "Take the session out of the plan" }).click();
  await expect(page.getByRole("status")).toContainText("out of the plan");
  expect(errors).toEqual([]);
});

test("a plan from elsewhere is checked line by line before it is laid", async ({ page }) => {
  const errors = collectErrors(page);
  await openClient(page);
  await page.keyboard.press("w");
  await expect(page.getByRole("heading", { name: "Read a plan in" })).toBeVisible();
  await page
    .getByLabel("The plan")
    .fill("Away day\nWeighted dips +10 kg 3 x 6-8\nDB curl\nLat pulldown 3 x 10-12, rest 90 s");
  await page.getByRole("button", { name: /^Read it/ }).click();
  await expectAccessible(page);
  // There are no bars in this room, and nobody said how many curls.
  await expect(page.getByText("not in this room: parallel bars")).toBeVisible();
  await expect(page.getByText("Pulldown with a wide bar is one of a gym")).toBeVisible();
  await page.getByRole("button", { name: /^Lay what is ticked/ }).click();
  await expect(page.getByText("not stated: say how many sets and repetitions")).toBeVisible();
  await page.getByLabel("Dose of Standing dumbbell curl").fill("2 x 12");
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole("button", { name: /^Lay what is ticked/ }).click();
  await expect(page.getByRole("heading", { name: "Away day" })).toBeVisible();
  await expect(page.locator(".slot.piece")).toHaveCount(3);
  await expect(page.locator(".slot.piece").nth(1)).toContainText("2 × 12");
  await expect(page.locator(".slot.piece").first()).not.toContainText("Dip between bars");
  await page.getByRole("link", { name: "Change" }).click();
  await page.getByRole("button", { name: "Take the session out of the plan" }).click();
  await expect(page.getByRole("status")).toContainText("out of the plan");
  expect(errors).toEqual([]);
});
