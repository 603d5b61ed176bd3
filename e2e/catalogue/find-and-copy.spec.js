// A movement is found by a name that is not its own, looked at, and copied with another posture.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, signIn } from "../helpers.js";

test("a movement is found by a synonym and narrowed by filters", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.getByRole("link", { name: "Catalogue" }).click();
  const count = page.locator("#found [role=status]");
  await expect(count).toHaveText(/\d+ movements/);
  const all = Number.parseInt(await count.textContent(), 10);
  expect(all).toBeGreaterThanOrEqual(180);
  await expectAccessible(page);

  // Typing is enough; the address follows.
  await page.getByRole("searchbox").fill("decline push-up");
  await expect(page.getByText("also called decline push-up")).toBeVisible();
  await expect(page).toHaveURL(/q=decline/);
  const first = page.locator(".cards li").first();
  await expect(first).toContainText("Push-up with the feet raised");
  await expect(first.locator("svg.rig")).toBeVisible();

  // What a name gets wrong about the geometry is said on its page.
  await first.getByRole("link").click();
  await expect(page.getByRole("heading", { name: "Push-up with the feet raised" })).toBeVisible();
  await expect(page.getByText(/incline press/).first()).toBeVisible();
  await expectAccessible(page);
  await page.goBack();
  await expect(page.getByRole("searchbox")).toHaveValue("decline push-up");

  // Filters narrow what is found, and can be cleared.
  await page.getByRole("searchbox").fill("");
  await page.getByLabel("Region, trained directly").selectOption({ label: "Triceps, long head" });
  await page.getByLabel("Hardest").selectOption({ label: "Lengthened" });
  await expect(page).toHaveURL(/emphasis=lengthened/);
  await expect.poll(async () => Number.parseInt(await count.textContent(), 10)).toBeLessThan(30);
  const here = page.getByLabel("Possible here");
  await here.selectOption(await here.locator("option", { hasText: "Quarry park" }).getAttribute("value"));
  await expect(page.getByText(/ruled out by this room/)).toBeVisible();
  await page.getByRole("link", { name: "Clear" }).click();
  // Beside this somebody may be making one of their own.
  const counted = async () => Number.parseInt(await count.textContent(), 10);
  await expect.poll(counted).toBeGreaterThanOrEqual(Number(all));

  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  expect(errors).toEqual([]);
});

test("an own movement is made from a copy, and its curve follows what is typed", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.goto("/catalogue/hammer_curl");
  await page.getByRole("link", { name: /Copy as my own/ }).click();
  const drawing = page.locator("#own-drawing");
  await expect(drawing).toContainText("lengthened 21 %");
  await expectAccessible(page);
  await page.getByLabel("Name", { exact: true }).fill(`Hammer curl over a rail ${Date.now()}`);
  const angle = page.getByLabel(/Upper arm from straight down/);
  await angle.fill("45");
  await angle.blur();
  await expect(drawing).toContainText("lengthened 42 %");
  await angle.fill("very");
  await angle.blur();
  await expect(drawing).toContainText("Something typed cannot be used");
  await page.getByRole("button", { name: "Add to my catalogue" }).click();
  await expect(page.getByText("is not a number").first()).toBeVisible();
  await expect(angle).toHaveValue("very");
  await angle.fill("45");
  await page.getByRole("button", { name: "Add to my catalogue" }).click();
  await expect(page.getByRole("heading", { name: /Hammer curl over a rail/ })).toBeVisible();
  await page.getByRole("button", { name: "Take out of the catalogue" }).click();
  await expect(page.getByText("What was logged with it stays")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("heading", { name: /Hammer curl over a rail/ })).toBeVisible();
  await page.getByRole("button", { name: "Take out of the catalogue" }).click();
  expect(errors).toEqual([]);
});
