// A client's band on the simulated scale: readings, fit, saved to the kit, and the ladder has other loads.
import { expect, test } from "@playwright/test";
import { collectErrors, expectAccessible, openSession, signIn } from "../helpers.js";

const CLIENT = "Bramwell Tarn";
const MOVEMENT = "Band rear fly, bent over, band underfoot";

// The loads of the ladder of a movement that a loop loads, in the slot for the upper back.
async function ladder(page, session) {
  await page.goto(session);
  await page.locator(".slot", { hasText: "rhomboids" }).getByRole("link", { name: "Swap bench" }).click();
  await page.goto(`${page.url().split("?")[0]}?pick=bent_over_band_rear_fly`);
  await expect(page.locator(".picked h2")).toContainText(MOVEMENT);
  return page.locator(".picked .rung-load").allTextContents();
}

test("a band is fitted from the scale and its curve is used in a ladder", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await openSession(page, CLIENT);
  const session = page.url();
  const before = await ladder(page, session);
  expect(before.length).toBeGreaterThan(1);

  await page.getByRole("link", { name: "Lab" }).click();
  await expectAccessible(page);
  const band = page.getByLabel("Band on the scale");
  const label = (await band.locator("option").allTextContents()).find((t) => t.includes(CLIENT) && t.includes("black"));
  await band.selectOption({ label });
  await expect(page).toHaveURL(/band=/);

  // One reading by hand from the stream: it settles before it can be taken.
  await page.getByLabel("Pulled to, m").fill("1.3");
  await page.getByRole("button", { name: "Hold and read" }).click();
  await expect(page.getByRole("button", { name: "Take this reading" })).toBeDisabled();
  await expect(page.getByText("settled")).toBeVisible();
  await page.getByRole("button", { name: "Take this reading" }).click();
  await expect(page.getByLabel("Length 1, m")).toHaveValue("1.3");

  // A slack reading is refused beside its row.
  await page.getByLabel("Length 2, m").fill("1.05");
  await page.getByLabel("Reading 2, kg").fill("0.4");
  await page.getByRole("button", { name: /^Fit/ }).click();
  await expect(page.getByText(/Row 2, .*slack at 1.05 m/i)).toBeVisible();
  await page.getByLabel("Length 2, m").fill("");
  await page.getByLabel("Reading 2, kg").fill("");

  await page.getByRole("button", { name: "Take five readings" }).click();
  await expect(page.getByRole("heading", { name: "Fit" })).toBeVisible({ timeout: 20000 });
  await expect(page.locator(".reading")).toHaveCount(6);
  await expect(page.locator("#fit")).toContainText("Residual");
  await expectAccessible(page);
  await expect(page.locator("#fit h2")).toContainText("simulated");
  await page.getByRole("button", { name: /^Save the simulated curve/ }).click();
  await expect(page.getByRole("heading", { name: CLIENT })).toBeVisible();

  const after = await ladder(page, session);
  expect(after).not.toEqual(before);
  expect(errors).toEqual([]);
});

test("the calculators answer as one types and say what cannot be used", async ({ page }) => {
  const errors = collectErrors(page);
  await signIn(page);
  await page.goto("/lab/levers");
  await expectAccessible(page);
  const answer = page.locator("#answer .start-load");
  const flat = await answer.textContent();
  await page.getByLabel(/^Hands above the floor/).fill("0.6");
  await expect(answer).not.toHaveText(flat);
  await expect(page).toHaveURL(/hands=0.6/);
  await page.getByLabel(/^Hands above the floor/).fill("1.5");
  await expect(page.getByText(/count reps only/)).toBeVisible();
  await page.getByLabel("Movement").selectOption({ label: "inverted row" });
  await expect(page.getByLabel(/^Body to the floor/)).toBeVisible();
  await page.getByRole("link", { name: "Dumbbell and band" }).click();
  await expect(page.locator("#answer .start-load")).toHaveText("16 kg to 22 kg");
  await page.getByRole("link", { name: "Tempo and time under tension" }).click();
  await page.getByLabel(/^Tempo:/).fill("4-0");
  await expect(page.getByText(/four counts/)).toBeVisible();
  expect(errors).toEqual([]);
});
