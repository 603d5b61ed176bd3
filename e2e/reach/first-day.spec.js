// A new trainer's way from nobody to the end of a second workout, with every press, choice and word typed counted.
import { expect, test } from "@playwright/test";
import { signIn } from "../helpers.js";

const TO_THE_WEEK = 40;
const TO_THE_SECOND = 80;
const TO_ITS_END = 120;

test("from a new client to the end of the second workout in few actions, nothing asked twice", async ({ page }) => {
  page.setDefaultTimeout(15_000);
  await signIn(page);
  let actions = 0;
  const act = async (work) => {
    actions += 1;
    await work;
  };
  const press = (name, role = "button") => act(page.getByRole(role, { name }).first().click());
  const fill = (label, text) => act(page.getByLabel(label, { exact: true }).first().fill(text));
  const choose = (label, option) => act(page.getByLabel(label, { exact: true }).first().selectOption(option));
  // Every set of the workout on the trainer's phone: how many, then log.
  const perform = async () => {
    await press("Start the session", "link");
    await press("Warm: to the first set", "link");
    const log = page.getByRole("button", { name: "Log set" });
    const done = page.getByRole("heading", { name: "Session done" });
    let sets = 0;
    for (;;) {
      // Between two pages neither is there, and an empty page is no end of a workout.
      await expect(log.or(done)).toBeVisible();
      if (await done.isVisible()) return sets;
      const before = await page.locator('input[name="id"]').first().inputValue();
      const amounts = page.locator('input[type="radio"]:is([name="reps"], [name="seconds"])');
      await act(amounts.nth(2).check());
      await act(log.click());
      sets += 1;
      await expect(page.locator(`input[name="id"][value="${before}"]`)).toHaveCount(0);
    }
  };

  await press(/^New client/, "link");
  await fill("Name", "Iona Prell");
  await fill("Height", "168");
  await fill("Body mass", "64");
  await choose("Experience", "intermediate");
  await choose("Goal", { index: 1 });
  await fill("Days a week", "2");
  await fill("Minutes a session", "40 min");
  await press("Take in, then health");
  await page.waitForURL(/health/);
  const questions = await page.locator(".question").count();
  expect(questions).toBeGreaterThan(5);
  for (let i = 0; i < questions; i += 1) await act(page.keyboard.press("n"));
  await act(page.keyboard.press("Enter"));
  await page.waitForURL(/limits/);
  await press("To the places", "link");
  await page.waitForURL(/places/);
  for (const [name, kit] of [
    ["Loft", "flat"],
    ["Hotel", { index: 3 }],
  ]) {
    if (name === "Hotel") await act(page.getByText("Add a place", { exact: true }).first().click());
    await fill("Name", name);
    await choose("Starts with", kit);
    await press("Add the place");
    await expect(page.getByRole("heading", { name })).toBeVisible();
  }
  await press("To the aims", "link");
  await press(/^Set these aims/);
  await expect(page.getByText("Aims ○")).toBeHidden();
  const client = new URL(page.url()).pathname.replace("/aims", "");
  await press("Overview", "link");
  await press("Propose a week", "link");
  await press(/^Propose a week/);
  await page.waitForURL(/week\/[0-9a-f-]+$/);
  await press(/^Take this week/);
  await page.waitForURL(new RegExp(`${client}$`));
  expect(actions).toBeLessThan(TO_THE_WEEK);

  const sessions = page.getByRole("link", { name: /, (Loft|Hotel)$/ });
  const first = await sessions.nth(0).getAttribute("href");
  await act(sessions.nth(0).click());
  await page.waitForURL(`**${first}`);
  expect(await perform()).toBeGreaterThan(5);
  // What comes next is there to be pressed: the calls of the workout, and from them the client.
  await expect(page.getByRole("link", { name: /^Next step: / }).first()).toBeVisible();
  await act(page.goto(client));
  const other = page.locator(`a[href^="/sessions/"]:not([href="${first}"])`).filter({ hasText: /, (Loft|Hotel)$/ });
  await act(other.first().click());
  await page.waitForURL(/sessions/);
  expect(actions).toBeLessThan(TO_THE_SECOND);
  expect(await perform()).toBeGreaterThan(5);
  expect(actions).toBeLessThan(TO_ITS_END);
});
