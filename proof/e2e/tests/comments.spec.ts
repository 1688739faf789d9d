import { expect, type Page, test } from "@playwright/test";
import { accessible, caretSet, grey, makeDocument, openManuscript, signIn, words } from "./support";

const remarks = (page: Page) => page.getByRole("complementary", { name: "Remarks" });

/** The words that are marked on the page because comments are about them. */
const marked = (page: Page) =>
  page.evaluate(() => [...(CSS.highlights.get("comment") ?? [])].map((r) => (r as Range).toString()));

test("two people talk about words of a step; the words are found again, or it is said that they are gone", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Talked about ${Date.now()}`, [
    { words: "Scan the bin card at the dock scale", picture: grey(181) },
    { words: "Press Go" },
  ]);
  await openManuscript(page, id);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "tomasz");
  await openManuscript(other, id);

  // Words are chosen and commented on, with a name that is offered.
  await words(page, 1).click();
  await expect(page.locator(".ProseMirror-focused")).toBeVisible();
  await caretSet(page);
  await page.keyboard.press("Home");
  for (let i = 0; i < 5; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.down("Shift");
  for (let i = 0; i < 12; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.up("Shift");
  await page.keyboard.press("ControlOrMeta+Alt+w");
  const fresh = page.getByRole("region", { name: "New comment" });
  await expect(fresh).toContainText("“the bin card”");
  const field = fresh.getByRole("textbox", { name: "Your comment" });
  await field.pressSequentially("Which one, @tom");
  await fresh.getByRole("button", { name: "Tomasz Ferrow" }).click();
  await expect(field).toHaveValue("Which one, @Tomasz Ferrow ");
  await field.press("End");
  await field.press("?");
  await expect(field).toHaveValue("Which one, @Tomasz Ferrow ?");
  await page.keyboard.press("ControlOrMeta+Enter");
  await expect(fresh).toBeHidden();
  await expect.poll(() => marked(page)).toEqual(["the bin card"]);
  await accessible(page);

  // The other has it at once, and answers.
  const thread = remarks(other).getByRole("region", { name: "Comment by Ines Brackwater" });
  await expect(thread).toContainText("Which one, @Tomasz Ferrow ?");
  await expect(other.getByRole("button", { name: "1 comment" })).toBeVisible();
  await thread.getByRole("button", { name: "Answer" }).click();
  await thread.getByRole("textbox", { name: "Your answer" }).fill("The green one.");
  await thread.getByRole("button", { name: "Answer" }).click();
  await expect(remarks(page)).toContainText("The green one.");

  // Reworded, the words are found again; taken away, it is said.
  const type = async (text: string) => {
    await words(page, 1).click();
    await expect(page.locator(".ProseMirror-focused")).toBeVisible();
    await caretSet(page);
    await page.keyboard.press("ControlOrMeta+a");
    await page.keyboard.type(text);
    await words(page, 2).click();
  };
  await type("First scan the green bin card at the scale");
  await expect.poll(() => marked(page)).toEqual(["the green bin card"]);
  await type("Wait");
  await expect(remarks(page)).toContainText("About words that are not there any more: “the bin card”");
  await expect.poll(() => marked(page)).toEqual([]);

  // Settled ones are put away, and can be seen again; one's own can be taken back.
  await thread.getByRole("button", { name: "Settle" }).click();
  await expect(remarks(page).getByText("The green one.")).toBeHidden();
  await page.getByRole("button", { name: "Comments", exact: true }).click();
  await page.getByRole("menuitem", { name: "Show all, settled ones too" }).click();
  await expect(remarks(page)).toContainText("Settled by Tomasz Ferrow");
  await page.keyboard.press("Alt+PageDown");
  await expect(remarks(page).getByRole("region", { name: "Comment by Ines Brackwater" })).toBeFocused();
  await remarks(page)
    .getByRole("button", { name: /^What to do with the comment/ })
    .click();
  await page.getByRole("menuitem", { name: "Take back" }).click();
  await expect(remarks(page)).toContainText("Taken back.");

  // A picture and the whole document are talked about too; readers see none of it.
  await page.getByRole("button", { name: /^Actions for step 1/ }).click();
  await page.getByRole("menuitem", { name: "Comment on its picture" }).click();
  await fresh.getByRole("textbox").fill("Too dark.");
  await fresh.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(remarks(other)).toContainText("About its picture");
  const read = await (await page.request.get(`/api/documents/${id}`)).text();
  expect(read).not.toContain("Too dark.");
  await other.context().close();
});
