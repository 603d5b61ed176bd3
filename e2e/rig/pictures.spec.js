// Drawings and charts leave a page: as SVG that stands by itself, as PNG, and by the clipboard.
import { readFile } from "node:fs/promises";
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, signIn } from "../helpers.js";

async function saved(page, name) {
  const [download] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name }).click()]);
  return { file: download.suggestedFilename(), bytes: await readFile(await download.path()) };
}

test("a drawing is saved and copied with its styles", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  const errors = collectErrors(page);
  await signIn(page);
  await page.goto("/rig?movement=low_to_high_band_fly");
  await page.getByRole("button", { name: "Pictures of this page", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "Pictures of this page" });
  await expect(dialog).toBeVisible();
  expect(await dialog.getByRole("listitem").count()).toBeGreaterThan(1);
  await expectAccessible(page);

  const drawing = await saved(page, /^Save SVG: .*[Ff]ly/);
  expect(drawing.file).toMatch(/fly.*\.svg$/);
  const text = drawing.bytes.toString();
  // Nothing in it needs the page: no class, no variable, every shape with its paint.
  expect(text).toMatch(/^<svg[^>]* xmlns="http:\/\/www\.w3\.org\/2000\/svg"/);
  expect(text).not.toMatch(/class=|var\(|data-field/);
  expect(text).toMatch(/<path[^>]* fill="rgb/);
  expect(text).toContain("font-face");

  const picture = await saved(page, /^Save PNG: .*[Ff]ly/);
  expect(picture.bytes.subarray(1, 4).toString()).toBe("PNG");
  const [width, height] = [picture.bytes.readUInt32BE(16), picture.bytes.readUInt32BE(20)];
  expect([width, height]).toEqual([1440, 1020]);

  await page.getByRole("button", { name: /^Copy SVG: .*[Ff]ly/ }).click();
  await expect(dialog.getByRole("status")).toContainText("Copied as SVG");
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain("<svg");
  await page.getByRole("button", { name: /^Copy PNG: .*[Ff]ly/ }).click();
  await expect(dialog.getByRole("status")).toContainText("Copied as PNG");
  const kinds = await page.evaluate(async () => (await navigator.clipboard.read()).flatMap((item) => item.types));
  expect(kinds).toContain("image/png");

  // Where nothing is drawn there is nothing to take.
  await page.goto("/account");
  await expect(page.getByRole("button", { name: "Pictures of this page", exact: true })).toBeHidden();
  expect(errors).toEqual([]);
});
