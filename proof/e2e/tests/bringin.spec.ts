import { expect, test } from "@playwright/test";
import {
  accessible,
  copy,
  file,
  grey,
  makeDocument,
  onServer,
  openManuscript,
  saved,
  signIn,
  steps,
  words,
  write,
} from "./support";

test.beforeEach(async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Bring in ${Date.now()}`, []);
  await openManuscript(page, id);
});
const idOf = (url: string) => url.split("/")[4] ?? "";

test("many files become steps in natural order, and a bad one says why without stopping the others", async ({
  page,
}) => {
  await expect(page.getByText("No steps yet")).toBeVisible();
  await page
    .getByLabel("Add pictures", { exact: true })
    .last()
    .setInputFiles([
      file("step 10.png", grey(10)),
      file("step 2.png", grey(2)),
      file("notes.txt", Buffer.from("no picture")),
      file("Step_1.png", grey(1)),
      file("step 2 (1).png", grey(3)),
    ]);
  await expect(steps(page)).toHaveCount(5);
  await expect(page.getByText("notes.txt can’t be used")).toBeVisible();
  await expect(page.getByText("This is not a picture that Raconte reads.")).toBeVisible();
  await accessible(page);
  const kept = async () => (await onServer(page, idOf(page.url()))).blocks.length;
  await expect.poll(kept).toBe(4); // the good ones did not wait
  await page.reload();
  await expect(page.getByText("notes.txt can’t be used")).toBeVisible();
  await page.getByRole("button", { name: "Delete", exact: true }).click();
  await saved(page);
  const whole = await (await page.request.get(`/api/documents/${idOf(page.url())}`)).json();
  const names = whole.blocks.map(
    (s: { content: { figures: { shot: string }[] } }) =>
      whole.shots.find((x: { id: string }) => x.id === s.content.figures[0]?.shot).name,
  );
  expect(names).toEqual(["Step_1.png", "step 2.png", "step 2 (1).png", "step 10.png"]);
});

test("a picture pasted from the clipboard is there at once and after a reload", async ({ page }) => {
  await copy(page, grey(90));
  await page.keyboard.press("Control+v");
  await expect(page.getByRole("button", { name: "Mark the picture of step 1" })).toBeEnabled();
  await page.keyboard.press("Control+v");
  await expect(steps(page)).toHaveCount(2);
  await saved(page);
  await page.reload();
  await expect(page.getByRole("button", { name: "Mark the picture of step 2" })).toBeEnabled();
  expect((await onServer(page, idOf(page.url()))).blocks).toHaveLength(2);
});

test("files dropped between two steps go between them", async ({ page }) => {
  await page.getByRole("button", { name: "Add a step without a picture" }).click();
  await expect(page.getByRole("textbox", { name: "Words of step 1" })).toBeFocused();
  await page.keyboard.type("First");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Add a step without a picture" }).click();
  await expect(page.getByRole("textbox", { name: "Words of step 2" })).toBeFocused();
  await page.keyboard.type("Last");
  await page.keyboard.press("Escape");
  const box = await steps(page).nth(1).boundingBox();
  await page.evaluate(
    ({ bytes, y }) => {
      const data = new DataTransfer();
      data.items.add(new File([new Uint8Array(bytes)], "middle.png", { type: "image/png" }));
      document.body.dispatchEvent(
        new DragEvent("drop", { dataTransfer: data, clientX: 500, clientY: y, bubbles: true, cancelable: true }),
      );
    },
    { bytes: [...grey(50)], y: (box?.y ?? 0) + 5 },
  );
  await expect(page.getByRole("button", { name: "Mark the picture of step 2" })).toBeEnabled();
  await expect(words(page, 3)).toContainText("Last");
});

test("what is written and pasted while the server can't be reached is kept, and goes up when it can", async ({
  page,
}) => {
  await page.route("**/api/shots/**", (r) => r.abort());
  await page.route("**/changes", (r) => r.abort());
  await page
    .getByLabel("Add pictures", { exact: true })
    .last()
    .setInputFiles([file("a.png", grey(20))]);
  await write(page, 1, "Written without a network");
  await expect(page.getByRole("status").filter({ hasText: "Kept in this browser" })).toBeVisible();
  await page.unrouteAll();
  await page.reload();
  await expect(page.getByText("Written without a network").last()).toBeVisible();
  await expect(page.getByRole("button", { name: "Mark the picture of step 1" })).toBeEnabled();
  await expect
    .poll(async () => JSON.stringify(await onServer(page, idOf(page.url()))))
    .toContain("Written without a network");
});
