import { expect, test } from "@playwright/test";
import { accessible, makeDocument, signIn } from "./support";

test("signing in: a wrong password is refused, the right one opens the library, signing out ends it", async ({
  page,
}) => {
  await page.goto("/");
  await page.getByLabel("Name").fill("ines");
  await page.getByLabel("Password").fill("wrong");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toHaveText("Name and password do not match. Check both and try again.");
  await accessible(page);
  await page.getByLabel("Password").fill("pellworth");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Documents" })).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Account of Ines Brackwater" }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await expect(page.getByRole("button", { name: "Sign in" })).toBeVisible();
  expect((await page.request.get("/api/documents")).status()).toBe(401);
});

test("a procedure is created, renamed, found, duplicated, deleted and brought back", async ({ page }) => {
  await signIn(page);
  const title = `Sweep the dock ${Date.now()}`;
  await page.getByRole("button", { name: "Write a procedure" }).click();
  await page.getByLabel("Title: what will the reader be able to do?").fill(title);
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByLabel("Title", { exact: true })).toHaveValue(title);
  await page.getByRole("link", { name: "Raconte, to the library" }).click();

  await page.getByRole("button", { name: `Actions for ${title}` }).click();
  await page.getByRole("menuitem", { name: "Rename" }).click();
  await page.getByRole("textbox").last().fill(`${title} twice`);
  await page.getByRole("button", { name: "Rename" }).click();
  await page.getByRole("searchbox").fill(`dokc ${title.split(" ").at(-1)}`); // one letter is in the wrong place
  await expect(page.getByRole("list", { name: "Documents" }).getByRole("listitem")).toHaveCount(1);
  await expect(page.getByRole("link", { name: `${title} twice` })).toBeVisible();

  await page.getByRole("button", { name: `Actions for ${title} twice` }).click();
  await page.getByRole("menuitem", { name: "Duplicate" }).click();
  await expect(page.getByRole("link", { name: `Copy of ${title} twice` })).toBeVisible();

  await page.getByRole("button", { name: `Actions for ${title} twice`, exact: true }).click();
  await page.getByRole("menuitem", { name: "Delete" }).click();
  await expect(page.getByRole("link", { name: `${title} twice`, exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("link", { name: `${title} twice`, exact: true })).toBeVisible();
});

test("titles are shown as text, whatever they hold", async ({ page }) => {
  await signIn(page);
  const title = `<img src=x onerror=alert(1)> ${Date.now()}`;
  await makeDocument(page.request, title, []);
  await page.reload();
  await expect(page.getByRole("link", { name: title })).toBeVisible();
});

test("a reader sees ready procedures only, and no way to change them", async ({ page, browser }) => {
  await signIn(page);
  const title = `Unfinished ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "One" }]);
  const reader = await (await browser.newContext()).newPage();
  await signIn(reader, "ruben");
  await reader.getByRole("searchbox").fill("Reprint a lot label");
  await expect(reader.getByRole("link", { name: "Reprint a lot label", exact: true }).first()).toBeVisible();
  await expect(reader.getByRole("link", { name: title })).toHaveCount(0);
  await expect(reader.getByRole("button", { name: "Write a procedure" })).toHaveCount(0);
  await reader.goto(`/d/${id}/write`);
  await expect(reader.getByText("There is nothing at this address")).toBeVisible();
  expect((await reader.request.get(`/api/documents/${id}`)).status()).toBe(404);
  await reader.context().close();
});
