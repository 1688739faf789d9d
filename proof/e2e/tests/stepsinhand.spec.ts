import { expect, test } from "@playwright/test";
import { caretSet, grey, makeDocument, onServer, openManuscript, saved, signIn, steps, words } from "./support";

test("steps in hand: divided at the caret, joined, a step of each line, pasted lists, each undone in one", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "In hand", [{ words: "Open the door. Read the card" }]);
  await openManuscript(page, id);
  const said = () => steps(page).locator("[data-words], [role=textbox]").allInnerTexts();
  await words(page, 1).click();
  await expect(page.getByRole("textbox", { name: "Words of step 1" })).toBeFocused();
  await caretSet(page);
  await page.keyboard.press("Home");
  for (let i = 0; i < "Open the door. ".length; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Control+Enter");
  await expect(page.getByRole("textbox", { name: "Words of step 2" })).toHaveText("Read the card");
  await page.keyboard.press("End");
  await page.keyboard.type(" twice");
  await page.keyboard.press("Control+Enter");
  await page.keyboard.type("Print the label"); // at the end an empty step is begun
  await page.keyboard.press("Escape");
  await expect(steps(page)).toHaveCount(3);
  expect((await said()).map((s) => s.split("\n")[0]?.trim())).toEqual([
    "Open the door.",
    "Read the card twice",
    "Print the label",
  ]);

  await page.getByRole("button", { name: "Actions for step 2" }).click();
  await page.getByRole("menuitem", { name: "Join with the step above" }).click();
  await expect(steps(page)).toHaveCount(2);
  await expect(words(page, 1)).toContainText("Read the card twice");
  await page.getByRole("button", { name: "Actions for step 1" }).click();
  await page.getByRole("menuitem", { name: "Make a step of each line" }).click();
  await expect(steps(page)).toHaveCount(3);

  const paste = (data: Record<string, string>) =>
    page.evaluate((data) => {
      const clipboardData = new DataTransfer();
      for (const [type, value] of Object.entries(data)) clipboardData.setData(type, value);
      document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
    }, data);
  await paste({ "text/plain": "1. Weigh it\n2. Write it down\n" });
  await expect(steps(page)).toHaveCount(5);
  await paste({
    "text/plain": "Close it\nGo",
    "text/html": `<ol><li>Close <b>the lid</b><img src=x onerror="document.title='run'"></li><li><p>Go <script>document.title='run'</script></p></li></ol>`,
  });
  await expect(steps(page)).toHaveCount(7);
  await expect(words(page, 6).locator("strong, b")).toHaveText("the lid");
  expect(await page.title()).not.toBe("run");
  await page.keyboard.press("Control+z");
  await expect(steps(page)).toHaveCount(5);
  await page.keyboard.press("Control+y");
  const picture = `<img src="data:image/png;base64,${grey(77).toString("base64")}">`;
  await paste({
    "text/plain": "a",
    "text/html": `<p>Look ${picture}</p><p>${picture}</p><p>Go on</p><img src="http://far.example/x.png">`,
  });
  await expect(steps(page)).toHaveCount(9);
  await expect(steps(page).nth(7).locator("[data-figure]")).toHaveCount(2); // a picture alone belongs to what stands before it
  await saved(page);
  const { blocks } = (await onServer(page, id)) as unknown as { blocks: { content: { words: unknown } }[] };
  expect(blocks).toHaveLength(9);
  expect(JSON.stringify(blocks[5])).toContain("the lid");
});

test("a shot is taken straight into the step that is written, and leads back to it", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Straight in", [{ words: "One" }, { words: "" }]);
  await openManuscript(page, id);
  await page.getByRole("button", { name: "Actions for step 2", exact: true }).click();
  await page.getByRole("menuitem", { name: "Take a shot for this step" }).click();
  await expect(page.getByText("The next shot you take goes into the step")).toBeVisible();
  await page.getByRole("button", { name: "Start the workstation" }).click();
  await page.getByRole("button", { name: /^Take/ }).first().click();
  await page.waitForURL(/\/write\?block=/);
  await expect(steps(page)).toHaveCount(2);
  await expect(steps(page).nth(1).locator("[data-figure]")).toHaveCount(1);
  await saved(page);
});
