import { expect, test } from "@playwright/test";
import { choose, accessible, grey, makeDocument, openManuscript, png, saved, signIn, words } from "./support";

test("what changed since the release is seen word by word, and an earlier revision becomes the draft", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Changing ${Date.now()}`, [
    { words: "Scan the bin card", picture: grey(171) },
    { words: "Press Go" },
    { words: "Wait for the label" },
  ]);
  await openManuscript(page, id);
  await page.getByRole("button", { name: "Release", exact: true }).click();
  await expect(page.getByText("Ready, revision 1")).toBeVisible();
  await words(page, 1).click();
  await page.keyboard.press("ControlOrMeta+a");
  await page.keyboard.type("Scan the lot card");
  await page.getByRole("button", { name: /^Actions for step 2/ }).click();
  await page.getByRole("menuitem", { name: "Delete step" }).click();
  await saved(page);
  await page.getByRole("button", { name: "More for this document" }).click();
  await page.getByRole("menuitem", { name: "History" }).click();
  await page.getByRole("link", { name: "Compare with the draft" }).click();
  const main = page.getByRole("main");
  await expect(main).toContainText("1 removed, 1 reworded.");
  await expect(main.locator("del").first()).toHaveText("bin");
  await expect(main.locator("ins").first()).toHaveText("lot");
  await expect(main.getByText("1 step is as it was.")).toBeVisible();
  await accessible(page);
  // On paper it is the list alone.
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("button", { name: "Print" })).toBeHidden();
  await page.emulateMedia({ media: "screen" });
  await choose(page, "to", "Revision 1");
  await expect(page.getByText("Nothing has changed.")).toBeVisible();
  await openManuscript(page, id);
  await page.getByRole("button", { name: "More for this document" }).click();
  await page.getByRole("menuitem", { name: "History" }).click();
  await page.getByRole("button", { name: "Make a draft of it" }).click();
  await expect(words(page, 1)).toContainText("Scan the bin card");
  await expect(words(page, 2)).toContainText("Press Go");
  await page.reload();
  await expect(words(page, 2)).toContainText("Press Go");
});

test("a picture that changed is shown before and after, with the places that differ", async ({ page }) => {
  await signIn(page);
  const spot = (v: number) =>
    png(800, 450, (x, y) => (x > 500 && x < 560 && y > 200 && y < 240 ? [v, 0, 0] : [240, 240, 240]));
  const { id } = await makeDocument(page.request, `Pictured ${Date.now()}`, [{ words: "Look", picture: spot(255) }]);
  const read = async () => (await page.request.get(`/api/documents/${id}`)).json();
  const put = async (shot: string, picture: Buffer) =>
    page.request.put(`/api/shots/${shot}?name=a.png`, {
      data: picture,
      headers: { "Content-Type": "application/octet-stream" },
    });
  await page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq: (await read()).seq } });
  const shot = `changed-${Date.now()}`;
  await put(shot, spot(20));
  const [block] = (await read()).blocks;
  block.content.figures[0].shot = shot;
  const change = {
    id: "c",
    blocks: [{ id: block.id, base: block.version, order: block.order, removed: false, content: block.content }],
  };
  expect((await page.request.post(`/api/documents/${id}/changes`, { data: change })).ok()).toBe(true);
  await page.goto(`/d/${id}/changes`);
  const main = page.getByRole("main");
  await expect(main.getByText("Another shot.")).toBeVisible();
  await expect(main.getByText("They differ in 1 place.")).toBeVisible();
  const frame = main.locator("svg rect").first();
  const x = Number(await frame.getAttribute("x"));
  expect(x).toBeGreaterThan(0.6);
  expect(x).toBeLessThan(0.65);
  await main.getByRole("checkbox", { name: "Over each other" }).check();
  await main.getByRole("slider", { name: "Where before ends and after begins" }).fill("10");
  await expect(main.getByRole("img", { name: "Before" })).toHaveCSS("clip-path", "inset(0px 90% 0px 0px)");
});
