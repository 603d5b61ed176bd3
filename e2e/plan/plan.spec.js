// The weeks of a client by keyboard: a proposal moved by hand, a plan with a trip in its second week and back, and the week as a
// template for another client's room.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

const CLIENT = "Perrin Vale";
const OTHER = "Odalys Finch";

async function openClient(page, name) {
  await page.goto("/");
  await page.getByRole("link", { name }).first().click();
  await page.getByRole("heading", { name, level: 1 }).waitFor();
}

const linesOf = (page, day) => page.locator(".week-day").nth(day).locator(".week-line strong").allTextContents();
const change = (page) => page.locator(".week-change");

// Asks for two days, neither of them today, so that what is planned for today stays next.
async function proposeTwoDays(page) {
  await page.keyboard.press("k");
  await page.waitForURL(/\/week$/);
  const today = new Date().getDay() || 7;
  const days = [((today + 1) % 7) + 1, ((today + 3) % 7) + 1].sort();
  for (let day = 1; day <= 7; day++) {
    const place = page.locator(`#f-place_${day}`);
    if (days.includes(day)) await place.selectOption({ index: 1 });
    else await place.selectOption("");
    await page.locator(`#f-minutes_${day}`).fill("40");
  }
  await page.getByRole("button", { name: /Propose/ }).focus();
  await page.keyboard.press("Enter");
  await page.waitForURL(/\/week\/[0-9a-f-]+$/);
}

test("a week is moved by keyboard, goes on as a plan with a trip, and fits another client", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openClient(page, CLIENT);
  await proposeTwoDays(page);
  await expectAccessible(page);
  const first = [await linesOf(page, 0), await linesOf(page, 1)];
  expect(first[0].length).toBeGreaterThan(1);

  // The second line of the first day goes to the second day, is joined with its neighbour, and comes back by undo.
  await page.keyboard.press("ArrowRight");
  await expect(page.locator(".week-line.on strong")).toHaveText(first[0][1]);
  await page.keyboard.press("2");
  await expect(page.locator(".week-day").nth(1).locator(".week-line.on strong")).toHaveText(first[0][1]);
  await expect(change(page)).toContainText("min");
  expect(await linesOf(page, 0)).toHaveLength(first[0].length - 1);
  const seams = await page.locator(".week-day").nth(1).locator(".seam").count();
  await page.keyboard.press("j");
  await expect(page.locator(".week-day").nth(1).locator(".seam")).toHaveCount(seams + 1);
  await page.keyboard.press("u");
  await expect(page.locator(".week-day").nth(1).locator(".seam")).toHaveCount(seams);
  await page.keyboard.press("u");
  await expect(page.locator(".week-day").nth(0).locator(".week-line")).toHaveCount(first[0].length);
  expect([await linesOf(page, 0), await linesOf(page, 1)]).toEqual(first);

  // Dragged beside the lines of the other day it goes there; undone it is back.
  const mine = page.locator(".week-day").nth(0).locator(".week-line");
  // A drag that begins while the page is still being put in order goes nowhere: then it is tried again.
  await expect(async () => {
    if ((await mine.count()) === first[0].length) {
      await mine.first().dragTo(page.locator(".week-day").nth(1).locator("h2"));
    }
    await expect(mine).toHaveCount(first[0].length - 1, { timeout: 5_000 });
  }).toPass();
  await page.keyboard.press("u");
  await expect(page.locator(".week-day").nth(0).locator(".week-line")).toHaveCount(first[0].length);

  // Ten minutes less: what runs over sticks out until the day is proposed anew.
  const minutes = page.locator("#m-0");
  await minutes.fill("20");
  await minutes.press("Enter");
  await expect(page.locator(".week-day").nth(0)).toContainText("min over");
  await page
    .getByRole("button", { name: /Propose anew .*what is pinned and the other days stay/ })
    .first()
    .click();
  await expect(page.locator(".week-day").nth(0)).not.toContainText("min over");
  expect(await linesOf(page, 1)).toEqual(first[1]);

  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });

  // Kept as a template.
  const template = `Two days, ${Date.now()}`;
  await page.getByLabel(/Keep it as a template/).fill(template);
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await page.getByRole("cell", { name: template, exact: true }).waitFor();
  await expectAccessible(page);
  await page.goBack();

  // Taken, and put on weekdays for six weeks, with a trip in the second.
  await page.keyboard.press("s");
  await page.getByRole("heading", { name: CLIENT, level: 1 }).waitFor();
  await page.keyboard.press("j");
  await page.waitForURL(/\/plan$/);
  await expectAccessible(page);
  await page.getByLabel("Weeks", { exact: true }).first().fill("30");
  await page.keyboard.press("Escape");
  await page.keyboard.press("s");
  await expect(page.locator("#e-weeks")).toContainText("4 to 12");
  await page.getByLabel("Weeks", { exact: true }).first().fill("6");
  const start = new Date(`${await page.locator("[name=starts_on]").inputValue()}T12:00:00Z`);
  const on = (days) => new Date(start.getTime() + days * 86400000).toISOString().slice(0, 10);
  await page.locator("[name=trip_from_0]").fill(on(7));
  await page.locator("[name=trip_until_0]").fill(on(13));
  const places = await page.locator("[name=trip_at_0] option").allTextContents();
  await page.locator("[name=trip_at_0]").selectOption({ index: places.length - 1 });
  await page.locator("[name=trip_at_0]").press("Escape");
  await page.keyboard.press("s");
  const weeks = page.locator(".plan-week");
  await expect(weeks).toHaveCount(6);
  const entries = (week) =>
    weeks
      .nth(week)
      .locator(".plan-entry span")
      .evaluateAll((all) => all.map((e) => e.textContent.trim()));
  await expect(weeks.nth(1)).toContainText(`at ${places.at(-1)} from`);
  expect((await entries(1)).filter((text) => text === places.at(-1)).length).toBeGreaterThan(0);
  // The first two weeks open; after the trip it is home again.
  for (let week = 0; week < 2; week++) {
    const open = page.getByRole("button", { name: /Open week/ });
    if (/Open week [12] /.test(await open.textContent())) await open.click();
  }
  await expect(weeks.nth(1).locator("h2")).toContainText("open");
  expect((await entries(1)).filter((text) => text === places.at(-1)).length).toBeGreaterThan(0);
  expect((await entries(2)).filter((text) => text === places.at(1)).length).toBeGreaterThan(0);
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  await page.setViewportSize({ width: 1280, height: 800 });

  // What it hangs on.
  await page.keyboard.press("w");
  await page.getByRole("heading", { name: "What the plan hangs on" }).waitFor();
  await expectAccessible(page);
  await page.goBack();
  await page.getByRole("button", { name: "End the plan" }).click();
  await expect(page.getByText("was ended.")).toBeVisible();

  // The template in another client's room: fitted there, and looked at before anything is planned.
  await openClient(page, OTHER);
  await page.keyboard.press("a");
  await page.getByRole("link", { name: template }).click();
  await expectAccessible(page);
  await page.keyboard.press("s");
  await page.waitForURL(/\/week\/[0-9a-f-]+$/);
  await expect(page.locator(".notice").first()).toContainText("From the template");
  await expect(page.locator(".week-line")).not.toHaveCount(0);
  expect(errors).toEqual([]);
});
