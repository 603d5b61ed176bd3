// From a client's room to a logged set and the next step, as a new user walks it.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, expectNoSidewaysScroll, openSession, signIn } from "../helpers.js";

const CLIENT = "Odalys Finch";

test("the whole line: room, swap bench, logged sets, accepted call", async ({ page }) => {
  const errors = collectErrors(page);
  await page.goto("/sign-in");
  await expectAccessible(page);
  await signIn(page);
  await expectAccessible(page);

  // The client and the room.
  await page.getByRole("link", { name: CLIENT }).click();
  await expect(page.getByRole("heading", { name: CLIENT })).toBeVisible();
  await expect(page.getByText("left shoulder: pain in deep stretch (moderate)")).toBeVisible();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);

  // The curl's slot: dumbbells lead while they are there.
  await page.getByRole("link", { name: "Chest and arms" }).click();
  const session = page.url();
  await expectAccessible(page);
  const curl = page.locator(".slot", { hasText: "biceps, long head" });
  await curl.getByRole("link", { name: "Swap bench" }).click();
  const bench = page.url();
  const first = page.locator(".candidate strong").first();
  const before = await first.textContent();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);

  // Another candidate is picked in place; the address names it, and back works.
  const second = page.locator("a.candidate-grid").nth(1);
  await second.click();
  await expect(page.locator(".candidate").nth(1)).toHaveClass(/on/);
  await expect(page).toHaveURL(/pick=/);
  await expect(page.locator(".picked h2")).toHaveText(await second.locator("strong").textContent());
  await page.goBack();
  await expect(page.locator(".candidate").first()).toHaveClass(/on/);

  // Without the dumbbells another candidate leads; undo brings them back.
  await page.goto("/");
  await page.getByRole("link", { name: CLIENT }).click();
  await page.getByRole("link", { name: "Places" }).click();
  const kit = page.locator("#kit");
  await kit.getByRole("button", { name: /Remove dumbbells/ }).click();
  await expect(kit.getByRole("button", { name: /Remove dumbbells/ })).toHaveCount(0);
  const client = page.url();
  await page.goto(bench);
  await expect(first).not.toHaveText(before);
  await page.goto(client);
  // The undo is offered where the removal was made; kit can be typed in again as well.
  await kit.getByText("Add with measures").click();
  await kit.getByLabel("Pairs").fill("3, five");
  await kit.getByRole("button", { name: /^Add to/ }).click();
  await expect(kit.getByText("is not a number")).toBeVisible();
  await expect(kit.getByLabel("Pairs")).toHaveValue("3, five");
  await kit.getByLabel("Pairs").fill("3, 5, 8, 12");
  await kit.getByLabel("Singles").fill("20");
  await kit.getByRole("button", { name: /^Add to/ }).click();
  await expect(kit.locator(".kit-list").getByText("dumbbells 3, 5, 8, 12 kg pairs, 20 kg single")).toBeVisible();
  await page.goto(bench);
  await expect(first).toHaveText(before);

  // Take the best fit.
  await page.getByRole("button", { name: /^Take/ }).click();
  await expect(page).toHaveURL(new RegExp(session));
  await expect(curl.locator("strong")).toHaveText(before);

  // Log on the phone.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole("link", { name: "Start the session" }).click();
  await expect(page.getByText("arm circles")).toBeVisible();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  await page.getByRole("link", { name: "Warm: to the first set" }).click();
  await expectAccessible(page);
  await expectNoSidewaysScroll(page);
  let logged = 0;
  while (!(await page.getByRole("heading", { name: "Session done" }).isVisible())) {
    if (logged === 0) {
      // A set without repetitions is refused with the reason.
      await page.getByRole("button", { name: "Log set" }).click();
      await expect(page.getByText("Reps: tap or type how many were done")).toBeVisible();
    }
    await page.locator("input[name=reps]").nth(2).check({ force: true });
    await page.getByRole("button", { name: "Log set" }).click();
    logged += 1;
    await expect(page.locator(".logged tr")).toHaveCount(logged);
    expect(logged).toBeLessThan(40);
  }

  // A reload keeps everything.
  await page.reload();
  await expect(page.locator(".logged tr")).toHaveCount(logged);
  await expectAccessible(page);

  // The next step with its reasons, taken.
  await page.setViewportSize({ width: 1280, height: 800 });
  await page
    .getByRole("link", { name: /^Next step/ })
    .first()
    .click();
  await expect(page.getByRole("radio").first()).toBeChecked();
  await expectAccessible(page);
  const call = page.url();
  await page.getByRole("button", { name: /^Take this step/ }).click();
  await page.goto(call);
  await expect(page.getByText(/^Decided today/)).toBeVisible();
  expect(errors).toEqual([]);
});

test("a removal can be undone on the spot, by keyboard", async ({ page }) => {
  await signIn(page);
  await page.getByRole("link", { name: "Bramwell Tarn" }).click();
  await page.getByRole("link", { name: "Places" }).click();
  const kit = page.locator("#kit");
  await kit.getByRole("button", { name: /Remove rings/ }).press("Enter");
  await expect(kit.getByText("Removed.")).toBeVisible();
  await expect(kit.getByRole("button", { name: /Remove rings/ })).toHaveCount(0);
  await kit.getByRole("button", { name: "Undo" }).press("Enter");
  await expect(kit.getByRole("button", { name: /Remove rings/ })).toBeVisible();
});

test("the keys of a screen are listed, and the theme is remembered", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, "Ysolde Quarry");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toContainText("Start the session");
  await page.keyboard.press("Escape");
  await page.keyboard.press("t");
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
  await expectAccessible(page);
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
  await page.keyboard.press("s");
  await expect(page).toHaveURL(/train\/warm-up$/);
  await expectAccessible(page);
  expect(errors).toEqual([]);
});

test("pages read and forms post without scripts", async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false, viewport: { width: 390, height: 844 } });
  const page = await context.newPage();
  await signIn(page);
  await openSession(page, "Ysolde Quarry");
  await page.getByRole("link", { name: "Swap bench" }).first().click();
  await expectNoSidewaysScroll(page);
  await page.locator("a.candidate-grid").nth(1).click();
  await expect(page.locator(".candidate").nth(1)).toHaveClass(/on/);
  await page.getByRole("button", { name: /^Take this fit/ }).click();
  await expectNoSidewaysScroll(page);
  await page.getByRole("link", { name: "Start the session" }).click();
  await page.getByRole("link", { name: "Warm: to the first set" }).click();
  await page.locator("input[name=reps]").first().check({ force: true });
  await page.getByRole("button", { name: "Log set" }).click();
  await expect(page.locator(".logged tr")).toHaveCount(1);
  await expectNoSidewaysScroll(page);
  await context.close();
});
