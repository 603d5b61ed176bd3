// A session performed on the phone in the order of its script: sides, a superset, a hold, lowering only, a mixed set; and
// the same session on another day.
import { expect, test } from "@playwright/test";
import { addSlot, collectErrors, expectAccessible, expectNoSidewaysScroll, signIn, takeIn } from "../helpers.js";

const CLIENT = "Sorrel Dane";
const NAME = "Every kind of set";
const SLOTS = [
  { pattern: "side raise", region: "side shoulder", line: "1 x 10-15, rest 5 s", sides: "one side at a time" },
  {
    pattern: "elbow flexion",
    region: "biceps, long head",
    line: "2 x 8-12 @ 3-0-1-0, rest 5 s",
    sides: "both sides together",
  },
  {
    pattern: "elbow extension",
    region: "triceps, long head",
    line: "2 x 8-12, rest 5 s",
    sides: "both sides together",
    beside: true,
  },
  { pattern: "trunk", region: "abdominals", line: "1 x 20 s" },
  {
    pattern: "wide row",
    region: "rear shoulder",
    line: "1 x 5 @ 5-0-1-0, lowering only",
    sides: "both sides together",
  },
  {
    pattern: "overhead press",
    region: "front shoulder",
    line: "1 x 4 fast + 2 held 8 s + 3 slow",
    sides: "both sides together",
  },
];

test("every kind of set is performed and logged in the order of the script", async ({ page }) => {
  test.setTimeout(120_000);
  const errors = collectErrors(page);
  await signIn(page);
  const client = await takeIn(page, CLIENT);
  await page.goto(`${client}/sessions/new`);
  await page.getByLabel("Name").fill(NAME);
  await page.getByRole("button", { name: "Make the session" }).click();
  await expect(page.getByText("has no slots yet")).toBeVisible();
  const session = page.url();
  for (const slot of SLOTS) await addSlot(page, session, slot);
  await expect(page.locator(".slot")).toHaveCount(SLOTS.length);
  await expectAccessible(page);

  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${session}/train`);
  const count = page.locator(".phone > p.soft").first();
  const log = () => page.getByRole("button", { name: "Log set" }).click();
  const reps = (n) => page.locator("input[name=reps]").nth(n).check({ force: true });

  // One side after the other, without a rest between them.
  await expect(count).toHaveText("Slot 1 of 6 · set 1 of 1 · left side");
  await expect(page.getByText("Then: the right side, without a rest")).toBeVisible();
  await expectAccessible(page);
  await reps(1);
  await log();
  await expect(count).toHaveText("Slot 1 of 6 · set 1 of 1 · right side");
  await expect(page.getByRole("radio", { name: "right" }).first()).toBeChecked();
  await reps(1);
  await log();

  // The superset goes round; the clock counts from when the set was done.
  await expect(count).toHaveText("Slot 2 of 6 · superset · set 1 of 2");
  await expect(page.getByRole("img", { name: /^Tempo 3-0-1-0/ })).toBeVisible();
  await expect(page.getByRole("timer")).toHaveText(/Rest/);
  await reps(2);
  await log();
  await expect(count).toHaveText("Slot 3 of 6 · superset · set 1 of 2");
  await reps(2);
  await log();
  // Half of it on another step: one set of two parts.
  await expect(count).toHaveText("Slot 2 of 6 · superset · set 2 of 2");
  await reps(1);
  await page.getByText("Changed within the set").click();
  await page.getByLabel("To what").selectOption({ index: 1 });
  await log();
  await expect(page.getByRole("alert")).toContainText("Changed: say after how many repetitions");
  await page.getByLabel("After how many").fill("4");
  await log();
  await expect(page.locator("table.logged")).toContainText(/4( reps)?, then /);
  await expect(count).toHaveText("Slot 3 of 6 · superset · set 2 of 2");
  await reps(1);
  await log();

  // A hold has a clock and seconds instead of repetitions.
  await expect(count).toHaveText("Slot 4 of 6 · set 1 of 1");
  await page.getByRole("button", { name: "Start the clock" }).click();
  await expect(page.locator(".hold-clock .big")).toHaveText("18", { timeout: 5000 });
  await page.getByRole("button", { name: "Stop the clock" }).click();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  await log();
  await expect(page.getByText("Seconds: tap or type how long it was held")).toBeVisible();
  await page.locator("input[name=seconds]").nth(2).check({ force: true });
  await log();

  // Lowering only, at its own tempo.
  await expect(count).toHaveText("Slot 5 of 6 · set 1 of 1");
  await expect(page.getByText("Reps lowered")).toBeVisible();
  await expect(page.getByRole("img", { name: /^Tempo 5-0-1-0/ })).toBeVisible();
  await reps(0);
  await log();

  // A mixed set says its parts and asks for both.
  await expect(page.getByText("2 held 8 s")).toBeVisible();
  await expect(page.getByText("Seconds held in all")).toBeVisible();
  await expectNoSidewaysScroll(page);
  await reps(0);
  await page.locator("input[name=seconds]").nth(2).check({ force: true });
  await log();
  await expect(page.getByRole("heading", { name: "Session done" })).toBeVisible();
  await expect(page.locator(".logged tr")).toHaveCount(9);
  await expect(page.locator(".logged")).toContainText("20 s");
  await expect(page.locator(".logged")).toContainText("each hand × 7 + 16 s");

  // The day is done; the same session is planned once more and shows it as the last time.
  await page.goto(session);
  await expect(page.locator("#days")).toContainText("done");
  await page.getByRole("button", { name: "Plan it again" }).click();
  await expect(page.locator("#days tr")).toHaveCount(2);
  await expect(page.locator("#days")).toContainText("planned");
  await page.getByRole("button", { name: "Plan it again" }).click();
  await page.getByLabel("Day", { exact: true }).fill("2031-01-01");
  await page.getByRole("button", { name: "Plan it again" }).click();
  await expect(page.locator("#days tr")).toHaveCount(4);
  await page.getByRole("button", { name: "Plan it again" }).focus();
  await page.getByLabel("Day", { exact: true }).fill("2031-01-01");
  await page.getByRole("button", { name: "Plan it again" }).click();
  await expect(page.getByText("Day: stands on that day already")).toBeVisible();
  await expectAccessible(page);
  await page.goto(client);
  await expect(page.getByText(`${NAME}`).first()).toBeVisible();
  expect(errors).toEqual([]);
});
