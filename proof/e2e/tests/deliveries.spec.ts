import { expect, test } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { accessible, grey, makeDocument, signIn } from "./support";

test("a reader takes a folder as one file, with a page that leads to all of it", async ({ page }) => {
  await signIn(page, "ruben");
  await page.getByRole("navigation", { name: "Folders" }).getByText("Receiving", { exact: true }).click();
  await page.getByRole("button", { name: "Make files of this folder" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("combobox", { name: "Form" }).selectOption("html");
  await accessible(page);
  await dialog.getByRole("button", { name: "Make them" }).click();
  const row = page.getByRole("listitem").filter({ hasText: "Receiving" }).first();
  await expect(row).toContainText("Web page of each document that is valid");
  const link = row.getByRole("link", { name: /^Download/ });
  const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
  const dir = mkdtempSync(join(tmpdir(), "raconte-"));
  await download.saveAs(join(dir, "all.zip"));
  execFileSync("unzip", ["-q", join(dir, "all.zip"), "-d", dir]);
  await page.goto(`file://${dir}/index.html`);
  await page.getByRole("link", { name: /Receive a lot into a cold room/ }).click();
  await expect(page.getByRole("heading", { name: "Receive a lot into a cold room" })).toBeVisible();
});

test("a file lies at a place of the house from one release to the next", async ({ page }) => {
  await signIn(page);
  const title = `Standing ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "Scan the card", picture: grey(161) }]);
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "Web page", exact: true }).check();
  await dialog.getByRole("radio", { name: "To a place of the house, again at each release" }).check();
  await dialog.getByLabel("Folder in it").fill(`e2e/${id}`);
  await dialog.getByRole("button", { name: "Make it" }).click();
  await expect(dialog).toBeHidden();
  await page.goto("/deliveries");
  const row = page.getByRole("region", { name: "At each release" }).getByRole("listitem").filter({ hasText: title });
  await expect(row).toContainText("Nothing valid is there.");
  const seen = await (await page.request.get(`/api/documents/${id}`)).json();
  await page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq: seen.seq } });
  await expect(row).toContainText(`Web page, into Intranet, e2e/${id}. Revision 1 is there.`);
  await accessible(page);
  await row.getByRole("button", { name: "End" }).click();
  await expect(row).toBeHidden();
});
