import AxeBuilder from "@axe-core/playwright";
import { expect } from "@playwright/test";

export const EMAIL = "trainer@bavrek.example";
export const PASSWORD = "paper-and-ink";

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
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter((v) => v.impact === "serious" || v.impact === "critical");
  expect(serious.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(", ")}`)).toEqual([]);
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
