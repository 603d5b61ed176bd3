// What was typed is not lost with the sign-in.
import { expect, test } from "@playwright/test";
import { EMAIL, PASSWORD, signIn } from "../helpers.js";

const returns = async (page) => {
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.getByLabel("E-mail address").fill(EMAIL);
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Sign in" }).click();
};

test("a form that met a sign-in that had ended is filled in again, and sent again it arrives", async ({ page }) => {
  await signIn(page);
  await page
    .getByRole("link", { name: /Bramwell Tarn/ })
    .first()
    .click();
  await expect(page).toHaveURL(/clients/);
  const client = new URL(page.url()).pathname;
  await page.goto(`${client}/data`);
  await page.getByLabel("What was agreed").fill("On paper, with the second page");
  await page.getByLabel("Kept until").fill("2029-03-01");
  await page.context().clearCookies();
  await page.getByRole("button", { name: "Keep it" }).click();
  await returns(page);
  await expect(page).toHaveURL(new RegExp(`${client}/data$`));
  await expect(page.getByText("What you typed is back")).toBeVisible();
  await expect(page.getByLabel("What was agreed")).toHaveValue("On paper, with the second page");
  await expect(page.getByLabel("Kept until")).toHaveValue("2029-03-01");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("What you typed is back")).toHaveCount(0);
  await page.reload();
  await expect(page.getByLabel("What was agreed")).toHaveValue("On paper, with the second page");
  await expect(page.getByText("What you typed is back")).toHaveCount(0);
});

test("a part of a page that met a sign-in that had ended brings the whole page to the door and back", async ({
  page,
}) => {
  await signIn(page);
  await page
    .getByRole("link", { name: /Bramwell Tarn/ })
    .first()
    .click();
  await expect(page).toHaveURL(/clients/);
  await page.goto(`${new URL(page.url()).pathname}/places`);
  const line = page.locator('form[action$="/kit/line"] input[name="line"]');
  await line.fill("7 + 9 kg");
  await page.context().clearCookies();
  await line.press("Enter");
  await returns(page);
  await expect(page).toHaveURL(/\/places/);
  await expect(page.getByText("What you typed is back")).toBeVisible();
  await expect(line).toHaveValue("7 + 9 kg");
});

test("a form that the server could not take is there when one goes back", async ({ page }) => {
  await signIn(page);
  await page.goto("/clients/new");
  await page.getByLabel("Name", { exact: true }).fill("Odo Farrow");
  await page.getByLabel("Height", { exact: true }).fill("1.81");
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Odo Farrow");
  await page.route("**/clients", (route) =>
    route.fulfill({ status: 503, contentType: "text/html", body: "<h1>The database does not answer</h1>" }),
  );
  await page.getByRole("button", { name: "Take in, then health" }).click();
  await expect(page.getByRole("heading", { name: "The database does not answer" })).toBeVisible();
  await page.unroute("**/clients");
  await page.goBack();
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Odo Farrow");
  await expect(page.getByLabel("Height", { exact: true })).toHaveValue("1.81");
});
