// What was typed is not lost by looking elsewhere, and focus stays where the work is.
import { expect, test } from "@playwright/test";
import { signIn } from "../helpers.js";

const focused = (page) =>
  page.evaluate(() => {
    const { id, name, tagName, textContent } = document.activeElement;
    return { id, name: name ?? "", tag: tagName, text: textContent.trim().slice(0, 40) };
  });

async function newClient(page, name) {
  await signIn(page);
  await page.goto("/clients/new");
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByLabel("Height", { exact: true }).fill("1.70");
  await page.getByLabel("Body mass", { exact: true }).fill("70");
  await page.getByLabel("Experience", { exact: true }).selectOption("novice");
  await page.getByLabel("Goal", { exact: true }).selectOption("size_first");
  await page.getByRole("button", { name: "Take in, then health" }).click();
  await expect(page).toHaveURL(/\/health$/);
  return page.url().replace(/\/health$/, "");
}

async function addPlace(page, client, name, start) {
  await page.goto(`${client}/places`);
  const add = page.getByText("Add a place", { exact: true });
  if (!(await page.locator("#place-name").isVisible())) await add.click();
  await page.locator("#place-name").fill(name);
  await page.locator("#place-start").selectOption(start);
  await page.getByRole("button", { name: "Add the place" }).click();
  await expect(page.getByRole("heading", { name })).toBeVisible();
}

test("aims that are not saved yet survive another view and are asked for before they are left", async ({ page }) => {
  const client = await newClient(page, "Wendel Asher");
  await addPlace(page, client, "Cellar", "flat");
  await addPlace(page, client, "Meadow", "floor_only");
  await page.goto(`${client}/aims`);
  await page.locator('label:has(input[name="aim_traps_upper"][value="focus"])').click();
  const least = page.locator('input[name="least_traps_upper"]');
  await least.fill("8");
  await page.locator('input[name="most_traps_upper"]').fill("12");
  await page.locator("label", { hasText: "Meadow" }).click();
  await expect(page.getByRole("heading", { name: "With the kit of Meadow" })).toBeVisible();
  await expect(page.locator('input[name="aim_traps_upper"][value="focus"]')).toBeChecked();
  await expect(least).toHaveValue("8");
  await expect(page.locator("#reach-traps_upper")).toBeVisible();

  // Leaving asks; staying keeps it all.
  const asked = page.waitForEvent("dialog");
  const leaving = page.getByRole("navigation", { name: "Main" }).getByRole("link", { name: /^Roster/ });
  const pressed = leaving.click({ noWaitAfter: true });
  const dialog = await asked;
  expect(dialog.type()).toBe("beforeunload");
  await dialog.dismiss();
  await pressed;
  await expect(least).toHaveValue("8");

  // Saved, nothing is asked any more.
  await page.getByRole("button", { name: /^Set these aims/ }).click();
  await expect(page.getByText(/in force since/)).toBeVisible();
  await leaving.click();
  await expect(page.getByRole("heading", { name: "Roster" })).toBeVisible();
});

test("after an error the wrong field has the focus, after a swap what was pressed", async ({ page }) => {
  const client = await newClient(page, "Tamsin Ferro");
  await addPlace(page, client, "Loft", "flat");
  // A whole page that comes back with an error below the fold.
  await page.goto(`${client}/aims`);
  const most = page.locator('input[name="most_trunk_back"]');
  await page.locator('input[name="least_trunk_back"]').fill("12");
  await most.fill("4");
  await page.getByRole("button", { name: /^Set these aims/ }).click();
  await expect(page.getByText(/the larger number comes second/)).toBeVisible();
  const least = page.locator('input[name="least_trunk_back"]');
  await expect(least).toBeFocused();
  await expect(least).toBeInViewport();

  // A part that is swapped.
  await page.goto(`${client}/places`);
  const along = page.getByRole("button", { name: /^Take it along: .*chair/ });
  await along.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: /^Leave it here: / })).toBeVisible();
  await expect.poll(() => focused(page)).toMatchObject({ tag: "BUTTON", text: "Leave it here" });
  // A removal takes what was pressed with it: the part itself has the focus then.
  await page.getByRole("button", { name: /^Remove .*chair/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText(/^Removed\./)).toBeVisible();
  await expect.poll(async () => (await focused(page)).tag).not.toBe("BODY");
  // An error in a swapped part takes the focus.
  await page.getByLabel("Dumbbells in a line").fill("5, 8, twelve");
  await page.keyboard.press("Enter");
  await expect(page.locator("#line-error")).toBeVisible();
  await expect(page.getByLabel("Dumbbells in a line")).toBeFocused();
});
