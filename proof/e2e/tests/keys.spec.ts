import { expect, test } from "@playwright/test";
import { accessible, caretSet, grey, makeDocument, openManuscript, signIn, words } from "./support";

test("every key of a page is in one list, means one thing, and is no key where words are written", async ({ page }) => {
  await signIn(page);
  const list = page.getByRole("dialog", { name: "Keys on this page" });
  await page.keyboard.press("?");
  await expect(list).toContainText("Show which keys mean what");
  await expect(list).not.toContainText("Undo");
  await page.keyboard.press("Escape");

  const { id } = await makeDocument(page.request, `Keys ${Date.now()}`, [
    { words: "Scan the bin card", picture: grey(57) },
    { words: "Press Go" },
  ]);
  await openManuscript(page, id);
  await expect(words(page, 1)).toBeVisible();
  await page.keyboard.press("?");
  for (const said of [
    "Undo",
    "Go to the next comment",
    "Go to the next finding",
    "Move the step that has the keyboard",
  ])
    await expect(list).toContainText(said);
  const keys = await list.locator("dt kbd").allTextContents();
  expect(new Set(keys).size).toBe(keys.length); // none is there twice
  await accessible(page);
  await page.keyboard.press("Escape");
  await expect(list).toBeHidden();

  // Where words are written it is a sign among others.
  await words(page, 2).click();
  await page.getByRole("textbox", { name: "Words of step 2" }).waitFor();
  await caretSet(page);
  await page.keyboard.press("ControlOrMeta+a");
  await page.keyboard.type("Where is it?");
  await expect(list).toBeHidden();
  await expect(page.getByRole("textbox", { name: "Words of step 2" })).toHaveText("Where is it?");
  await page.keyboard.press("ControlOrMeta+z");
  await expect(page.getByRole("textbox", { name: "Words of step 2" })).not.toHaveText("Where is it?");

  // On a picture the pad's are there, too; switched off, letters choose nothing, and the menu still shows the list.
  await page.getByRole("button", { name: /^Mark the picture of step 1/ }).click();
  await expect(page.getByRole("application")).toBeVisible();
  const box = page.getByRole("toolbar", { name: /^Pad/ }).getByRole("button", { name: /Box$/ });
  await page.keyboard.press("w");
  await expect(box).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Escape");
  await page.keyboard.press("?");
  await expect(list).toContainText("With a key of the pad: for several marks");
  await list.getByRole("checkbox", { name: /^Keys of one letter/ }).uncheck();
  await page.keyboard.press("Escape");
  await page.keyboard.press("w");
  await page.keyboard.press("?");
  await expect(box).toHaveAttribute("aria-pressed", "false");
  await expect(list).toBeHidden();
  await page.getByRole("button", { name: /^Account of/ }).click();
  await page.getByRole("menuitem", { name: "Keys on this page" }).click();
  await list.getByRole("checkbox", { name: /^Keys of one letter/ }).check();
  await expect(list).toBeVisible();
});
