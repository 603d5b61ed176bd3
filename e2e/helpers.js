import { expect } from "@playwright/test";
import { told, violations } from "./access.js";
import { EMAIL, PASSWORD } from "./demo.js";

export { EMAIL, PASSWORD };

export async function signIn(page) {
  await page.goto("/");
  await page.getByLabel("E-mail address").fill(EMAIL);
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Roster" })).toBeVisible();
}

// Opens a client's session from the roster.
export async function openSession(page, client) {
  await page
    .getByRole("row", { name: new RegExp(client) })
    .getByRole("link")
    .nth(1)
    .click();
  await expect(page.getByRole("link", { name: "Start the session" })).toBeVisible();
}

// No serious violation of accessibility rules on the page as it is.
export async function expectAccessible(page) {
  const serious = (await violations(page)).filter((v) => v.impact === "serious" || v.impact === "critical");
  expect(serious.map(told)).toEqual([]);
}

// Nothing scrolls sideways.
export async function expectNoSidewaysScroll(page) {
  const [content, window] = await page.evaluate(() => [document.documentElement.scrollWidth, innerWidth]);
  expect(content).toBeLessThanOrEqual(window);
}

// Scripts and styles kept to the policy and nothing failed.
export function collectErrors(page) {
  const errors = [];
  page.on("pageerror", (error) => errors.push(error.message));
  page.on("console", (message) => {
    // A refused form is an expected answer, which browsers report as a failed load.
    if (message.type() === "error" && !message.text().includes("422")) errors.push(message.text());
  });
  return errors;
}

// A client with a place, as quickly as it goes; a client of its own disturbs no other journey.
export async function takeIn(page, name) {
  await page.getByRole("link", { name: /^New client/ }).click();
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByLabel("Height", { exact: true }).fill("1.74");
  await page.getByLabel("Body mass", { exact: true }).fill("72");
  await page.getByLabel("Experience", { exact: true }).selectOption("intermediate");
  await page.getByRole("button", { name: "Take in, then health" }).click();
  await page.waitForURL(/health/);
  const client = page.url().replace("/health", "");
  await page.goto(`${client}/places`);
  await page.getByLabel("Name", { exact: true }).fill("Loft");
  await page.getByLabel("Starts with", { exact: true }).selectOption("flat");
  await page.getByRole("button", { name: "Add the place" }).click();
  await expect(page.locator(".wall text", { hasText: "2 × 10 kg" })).toBeVisible();
  return client;
}

// One more slot of a session, with the best that does it.
export async function addSlot(page, session, slot) {
  await page.goto(`${session}/slots/new`);
  // A region that was chosen stays alone: the pattern fills nothing in.
  await page.getByText("As figures").click();
  await page.getByLabel(slot.region, { exact: true }).fill("1");
  await page.getByLabel("Pattern", { exact: true }).selectOption({ label: slot.pattern });
  if (slot.sides) await page.getByLabel("Sides").selectOption({ label: slot.sides });
  await page.getByLabel("In one line").fill(slot.line);
  if (slot.beside) await page.getByLabel("Done").selectOption({ label: "with biceps, long head" });
  await page.getByRole("button", { name: /Add the slot/ }).click();
  await page.waitForURL(/bench/);
  await page.getByRole("button", { name: /^Take/ }).click();
  await page.waitForURL(/\/sessions\//);
}
