// A rig is dragged, nudged and typed: load, curve and address follow; and it is taken into a slot.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, openSession, signIn } from "../helpers.js";

const kilograms = async (page) => Number.parseFloat(await page.locator("#effective").textContent());
const curve = (page) => page.locator("#rig-load .found-curve").first().getAttribute("d");

test("dragging the anchor changes load and curve, and the address keeps it", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.goto("/rig?movement=low_to_high_band_fly");
  await expectAccessible(page);
  const [load, line] = [await kilograms(page), await curve(page)];
  const grip = page.locator('.grip[data-field="anchor_height"]');
  const box = await grip.boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y - 70, { steps: 10 });
  await page.mouse.up();
  await expect.poll(() => kilograms(page)).toBeLessThan(load);
  expect(await curve(page)).not.toBe(line);
  const height = await page.getByLabel(/^Anchor height/).inputValue();
  expect(Number(height)).toBeGreaterThan(0.8);
  await expect(page).toHaveURL(new RegExp(`anchor_height=${height}`));

  // A reload shows the same rig.
  const moved = await kilograms(page);
  await page.reload();
  expect(await kilograms(page)).toBe(moved);
  await expect(page.getByLabel(/^Anchor height/)).toHaveValue(height);

  // The arrow keys move a handle, and keep it in focus.
  const distance = page.locator('.grip[data-field="anchor_distance"]');
  await distance.focus();
  for (let i = 0; i < 4; i += 1) await page.keyboard.press("ArrowUp");
  await expect.poll(() => kilograms(page)).toBeGreaterThan(moved);
  await expect(distance).toBeFocused();

  // Too far: said beside the field, and the drawing stays.
  await page.getByLabel(/^Distance to the anchor/).fill("4.5");
  await expect(page.locator('[data-error="anchor_distance"]')).toContainText("250 % is the most");
  await expect(page.locator("svg.rig")).toBeVisible();
  await page.getByLabel(/^Distance to the anchor/).fill("1.6");
  await expect(page.locator('[data-error="anchor_distance"]')).toBeEmpty();

  // Another movement has other fields.
  await page.getByLabel("Movement").selectOption({ label: "Push-up" });
  await expect(page.getByLabel(/^Hand height/)).toBeVisible();
  const flat = await kilograms(page);
  await page.getByLabel(/^Hand height/).fill("0,5");
  await expect.poll(() => kilograms(page)).toBeLessThan(flat);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectNoSidewaysScroll(page);
  expect(errors).toEqual([]);
});

test("a set-up is taken into the slot it was opened from", async ({ page }) => {
  await signIn(page);
  await openSession(page, "Odalys Finch");
  const slot = page.locator(".slot", { hasText: "triceps, long head" });
  await slot.getByRole("link", { name: "Swap bench" }).click();
  await page.locator(".picked").getByRole("link", { name: "Rig" }).click();
  await expect(page).toHaveURL(/\/rig\?slot=/);
  const id = new URL(page.url()).searchParams.get("slot");
  await page.goto(`/rig?slot=${id}&movement=overhead_band_extension`);
  const before = await page.locator("#effective").textContent();
  await page.getByLabel(/^Grip nearer/).fill("0.07");
  await expect(page.locator("#effective")).not.toHaveText(before);
  await page.getByRole("button", { name: /^Use this set-up/ }).click();
  await expect(page).toHaveURL(/\/sessions\//);
  await expect(slot).toContainText("grip 0.07 m nearer");
});
