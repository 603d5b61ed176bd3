// Pain on the phone: asked with its place, it stops the movement, opens what does not hurt, and stands on the client's
// pages until the trainer settles it.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, openSession, signIn } from "../helpers.js";

const CLIENT = "Bramwell Tarn";

test.use({ viewport: { width: 390, height: 844 } });

test("pain stops a movement, is flagged, and is settled", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const session = page.url().split("#")[0];
  await page.goto(`${session}/train`);
  const movement = await page.getByRole("heading", { level: 1 }).textContent();

  await page.locator("summary", { hasText: "Pain" }).click();
  await page.getByLabel("How strong, 0 to 10").selectOption("5");
  await page.getByRole("button", { name: "It hurts: stop here" }).click();
  await expect(page.getByText("say where it hurts")).toBeVisible();
  await expect(page.getByLabel("How strong, 0 to 10")).toHaveValue("5");
  await page.locator("[name=pain_at]").selectOption("neck");
  await page.getByRole("button", { name: "It hurts: stop here" }).click();

  await expect(page.getByRole("heading", { name: "Instead, right now" })).toBeVisible();
  await expect(page.getByText(`${movement}: neck hurts, 5 of 10`)).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${session}/train`);
  await expect(page.getByRole("heading", { level: 1 })).not.toHaveText(movement);
  await expect(page.getByRole("heading", { name: "Stopped because it hurt" })).toBeVisible();

  await page.getByRole("link", { name: "Settle it, or make it a limit" }).click();
  await expect(page.getByRole("heading", { name: "It hurt lately" })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: /^Settled/ }).click();
  await expect(page.getByRole("heading", { name: "In force today" })).toBeVisible();
  await expect(page.getByText("it hurt (")).toHaveCount(0);
  expect(errors).toEqual([]);
});
