// A whole workout on the client's phone without a signal: reloaded after every tap, the browser closed in the middle with its storage
// kept, then sent; every set is in the log once, equal to what was tapped. And two devices that show one workout.
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { chromium, expect, test } from "@playwright/test";
import { addSlot, collectErrors, expectAccessible, expectNoSidewaysScroll, signIn, takeIn } from "../helpers.js";

const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true };
const SLOTS = [
  { pattern: "side raise", region: "side shoulder", line: "1 x 10-15, rest 5 s", sides: "one side at a time" },
  { pattern: "elbow flexion", region: "biceps, long head", line: "2 x 8-12, rest 5 s", sides: "both sides together" },
  {
    pattern: "elbow extension",
    region: "triceps, long head",
    line: "2 x 8-12, rest 5 s",
    sides: "both sides together",
    beside: true,
  },
  { pattern: "trunk", region: "abdominals", line: "1 x 20 s" },
];

// A session of a client of its own, and the link to it.
async function planned(page, client, slots) {
  await signIn(page);
  const address = await takeIn(page, client);
  await page.goto(`${address}/sessions/new`);
  await page.getByLabel("Name").fill("In the garage");
  await page.getByRole("button", { name: "Make the session" }).click();
  await expect(page.getByText("has no slots yet")).toBeVisible();
  const session = page.url();
  for (const slot of slots) await addSlot(page, session, slot);
  await page.goto(`${address}/phone`);
  await page.getByRole("button", { name: "Make and send a link" }).click();
  const link = await page.getByLabel("The link", { exact: true }).inputValue();
  return { client: address, session, link, player: `${link}/${session.split("/").at(-1)}` };
}

const tap = (page, name) => page.getByRole("button", { name, exact: true }).first().click();
const count = (page) => page.locator(".go-name .soft");

// The turns of the session in their order, each with what is tapped.
const TURNS = [
  ["Job 1 of 4 · set 1 of 1 · left side", "11"],
  ["Job 1 of 4 · set 1 of 1 · right side", "11"],
  ["Job 2 of 4 · superset · set 1 of 2", "10"],
  ["Job 3 of 4 · superset · set 1 of 2", "9"],
  ["Job 2 of 4 · superset · set 2 of 2", "9"],
  ["Job 3 of 4 · superset · set 2 of 2", "8"],
  ["Job 4 of 4 · set 1 of 1", "20"],
];

test("a workout without a signal, reloaded at every step and closed in the middle, is in the log once", async ({
  page,
}) => {
  test.setTimeout(180_000);
  const { client, session, player } = await planned(page, "Linnet Ames", SLOTS);
  const storage = await mkdtemp(path.join(tmpdir(), "phone-"));
  const { launchOptions } = test.info().project.use;
  const open = () => chromium.launchPersistentContext(storage, { ...launchOptions, ...PHONE });

  let phone = await open();
  let screen = await phone.newPage();
  const errors = collectErrors(screen);
  await screen.goto(player);
  await expect(screen.getByRole("heading", { name: "Warm up" })).toBeVisible();
  await expectNoSidewaysScroll(screen);
  await expectAccessible(screen);
  // Once it was opened nothing more is needed.
  await screen.evaluate(() => navigator.serviceWorker.ready);
  await expect.poll(() => screen.evaluate(async () => (await caches.keys()).length)).toBe(1);
  await expect.poll(() => screen.evaluate(async () => Boolean(await caches.match(location.href)))).toBe(true);
  await phone.setOffline(true);
  await screen.reload();
  await tap(screen, "Warm: to the first set");
  await screen.reload();

  for (const [i, [turn, number]] of TURNS.entries()) {
    if (i === 3) {
      // The battery is flat; later the same phone goes on where it was.
      await phone.close();
      phone = await open();
      await phone.setOffline(true);
      screen = await phone.newPage();
      await screen.goto(player);
    }
    await expect(count(screen)).toHaveText(turn);
    await expect(screen.getByRole("status").first()).toHaveText(i === 0 ? "" : new RegExp(`^${i} to send`));
    await tap(screen, number);
    await tap(screen, "Log set");
    await expect(screen.locator(".done-list li")).toHaveCount(i + 1);
    await screen.reload();
    await expect(screen.locator(".done-list li")).toHaveCount(i + 1);
  }
  await expect(screen.getByRole("heading", { name: "Done", exact: true })).toBeVisible();
  await expect(screen.getByRole("status").first()).toContainText("7 to send");
  // A second page of the same phone shows and sends the same.
  const second = await phone.newPage();
  await second.goto(player);
  await expect(second.locator(".done-list li")).toHaveCount(7);
  await phone.setOffline(false);
  await expect(screen.getByRole("status").first()).toHaveText("all sent", { timeout: 60_000 });
  await expect(second.getByRole("status").first()).toHaveText("all sent");
  // What cannot be reached without a signal is no fault.
  expect(errors.filter((text) => !/ERR_INTERNET_DISCONNECTED|ERR_FAILED/.test(text))).toEqual([]);
  await phone.close();
  await rm(storage, { recursive: true, force: true });

  // Every set once, as it was tapped.
  await page.goto(`${session}/train`);
  const rows = page.locator(".logged tr td:nth-child(2)");
  await expect(rows).toHaveCount(TURNS.length);
  const logged = await rows.allTextContents();
  expect(logged.map((text) => /(\d+)(?: reps| s)?(?:,|$)/.exec(text.replace(/^.*×/, ""))[1])).toEqual(
    TURNS.map(([, number]) => number),
  );
  expect(logged.slice(0, 2).map((text) => text.split(":")[0])).toEqual(["left", "right"]);
  await page.goto(`${client}/phone`);
  await expect(page.getByText(/last used today/)).toBeVisible();
  await expectAccessible(page);
});

test("stations run on by the clock, through a reload, and each is logged once", async ({ page, browser }) => {
  test.setTimeout(120_000);
  const stations = SLOTS.slice(1, 3).map((slot) => ({ ...slot, line: "2 x 5 s, as a station, rest 5 s" }));
  const { session, player } = await planned(page, "Hollis Verity", stations);
  const phone = await browser.newContext(PHONE);
  const screen = await phone.newPage();
  const errors = collectErrors(screen);
  await screen.goto(player);
  await tap(screen, "Warm: to the first set");
  await tap(screen, "Run on from station to station");
  await expect(screen.locator(".ask .big.huge")).toHaveText(/^[345]$/);
  // In the middle of a station: it goes on where it should be, here and on a second page of the phone.
  await screen.reload();
  await expect(screen.getByRole("button", { name: "Stop the stations" })).toBeVisible();
  const second = await phone.newPage();
  await second.goto(player);
  for (const done of [1, 2, 3]) {
    await expect(screen.locator(".done-list li")).toHaveCount(done, { timeout: 15_000 });
    await expect(screen.locator(".done-list li").first()).toContainText("5 s");
    await tap(screen, "Go on now");
  }
  await expect(screen.locator(".done-list li")).toHaveCount(4, { timeout: 15_000 });
  await expect(screen.getByRole("heading", { name: "Done", exact: true })).toBeVisible();
  await expect(screen.getByRole("status").first()).toHaveText("all sent");
  expect(errors).toEqual([]);
  await phone.close();
  await page.goto(`${session}/train`);
  await expect(page.locator(".logged tr td:nth-child(2)")).toHaveCount(4);
});

test("a coach beside sees what the phone logs, and the phone what the coach logs", async ({ page, browser }) => {
  test.setTimeout(120_000);
  const { session, player } = await planned(page, "Tansy Roe", SLOTS.slice(1, 2));
  const phone = await browser.newContext(PHONE);
  const screen = await phone.newPage();
  await screen.goto(player);
  await tap(screen, "Warm: to the first set");
  await page.goto(`${session}/train`);
  await expect(page.getByText("Slot 1 of 1 · set 1 of 2")).toBeVisible();
  await page.waitForTimeout(2000);

  await tap(screen, "10");
  await tap(screen, "Log set");
  await expect(page.getByText("Slot 1 of 1 · set 2 of 2")).toBeVisible({ timeout: 4000 });
  await page.locator("input[name=reps]").nth(1).check({ force: true });
  await page.getByRole("button", { name: "Log set" }).click();
  await expect(screen.locator(".done-list li")).toHaveCount(2, { timeout: 4000 });
  await expect(screen.getByRole("heading", { name: "Done", exact: true })).toBeVisible();
  await phone.close();
});

test("a full storage loses nothing, pain stops a movement, and a link is replaced in one tap", async ({
  page,
  browser,
}) => {
  test.setTimeout(120_000);
  const { client, session, player } = await planned(page, "Corin Wexley", SLOTS.slice(1, 3));
  const phone = await browser.newContext(PHONE);
  await phone.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...of) {
      if (window.full && this.name === "entries") throw new DOMException("no room", "QuotaExceededError");
      return put.apply(this, of);
    };
  });
  const screen = await phone.newPage();
  await screen.goto(player);
  await tap(screen, "Warm: to the first set");
  // Without a signal and without room: it is told, and sent as soon as it can be.
  await phone.setOffline(true);
  await screen.evaluate(() => (window.full = true));
  await tap(screen, "10");
  await tap(screen, "Log set");
  await expect(screen.getByRole("status").first()).toContainText("the phone's storage is full");
  await phone.setOffline(false);
  await expect(screen.getByRole("status").first()).toHaveText("all sent", { timeout: 60_000 });
  await page.goto(`${session}/train`);
  await expect(page.locator(".logged tr")).toHaveCount(1);
  await screen.evaluate(() => (window.full = false));
  await tap(screen, "Pain");
  await tap(screen, "It hurts: stop here");
  await expect(screen.getByRole("alert").filter({ hasText: "Say how strong" }).first()).toBeVisible();
  await screen.locator(".pain-sheet .tap", { hasText: /^6$/ }).click();
  await tap(screen, "It hurts: stop here");
  await expect(screen.getByRole("alert").filter({ hasText: "Say where it hurts" }).first()).toBeVisible();
  await screen.locator(".pain-sheet select").first().selectOption("elbow");
  await tap(screen, "It hurts: stop here");
  await expect(screen.getByText(/^It hurt in .*: stopped for today/)).toBeVisible();
  await expect(screen.locator(".done-list li")).toHaveCount(2);
  // The next job loads the elbow too, and says so.
  await expect(screen.getByText(/^Your elbow hurt today \(6 of 10\), and this loads it too/)).toBeVisible();
  await expectAccessible(screen);

  // Replaced while the phone is away: what was done by the old link waits for the trainer's word, and is taken.
  await phone.setOffline(true);
  await tap(screen, "Leave it out");
  await page.goto(`${client}/phone`);
  await page.getByRole("button", { name: "Replace the link and send it" }).click();
  await expect(page.getByLabel("The link", { exact: true })).toBeVisible();
  await phone.setOffline(false);
  await screen.reload();
  await expect(screen.getByRole("heading", { name: "This link opens no more" })).toBeVisible();
  await expect(screen.getByText("1 sent, waiting for your trainer's word")).toBeVisible();
  await page.goto(client);
  await page.getByRole("link", { name: "Look at it" }).click();
  await page.getByRole("button", { name: "Into the log" }).click();
  await expect(page.getByText("Nothing needs a word.")).toBeVisible();
  await page.goto("/outbox");
  await expect(page.getByText("Your workouts").first()).toBeVisible();
  await expectAccessible(page);
  await phone.close();
});
