import { expect, test } from "@playwright/test";
import { arrived, choices, openCapture, startPractice } from "./capturing";
import {
  accessible,
  base,
  copy,
  drag,
  grey,
  leaves,
  makeDocument,
  onServer,
  openManuscript,
  png,
  saved,
  signIn,
} from "./support";

const port = Number(new URL(base).port);
const tracker = `http://127.0.0.1:${port + 5}`; // the stand-ins' ports begin two above the application's

/** A screen with a window that says something went wrong. */
const screen = png(900, 520, (x, y) =>
  y < 40 ? [40, 70, 60] : x > 300 && x < 620 && y > 180 && y < 320 ? [255, 240, 230] : [236, 240, 238],
);

test("from a picture on the clipboard to a report in the tracker: nine actions, and what is said there comes back", async ({
  page,
  browser,
}) => {
  await signIn(page);
  await page.goto("/picture");
  await page.evaluate(
    async (data) => {
      const blob = new Blob([new Uint8Array(data)], { type: "image/png" });
      await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
    },
    [...screen],
  );
  await expect(page.getByRole("heading", { name: "Just one picture" })).toBeVisible();
  const said = `It says that no label was printed ${Date.now()}`;
  let actions = 0;
  const act = async (...does: (() => Promise<unknown>)[]) => {
    actions++;
    for (const d of does) await d();
  };
  const keys = page.keyboard;
  await act(() => keys.press("Control+v"));
  await expect(page.getByRole("application")).toBeVisible();
  await act(
    () => keys.press("w"),
    () => drag(page, [0.33, 0.35], [0.7, 0.63]),
  );
  await act(
    () => keys.press("q"),
    () => drag(page, [0.2, 0.8], [0.36, 0.6]),
  );
  await act(
    () => keys.press("d"),
    () => drag(page, [0.6, 0.4], [0.75, 0.2]),
    () => keys.type("This"),
  );
  await act(() => page.getByRole("button", { name: "Report a fault" }).click());
  await expect(page.getByRole("textbox", { name: /What happened/ })).toBeFocused();
  await act(() => keys.type(said));
  await act(
    () => page.getByRole("group", { name: /What was expected/ }).click(),
    () => expect(page.getByRole("textbox", { name: /What was expected/ })).toBeFocused(),
    () => keys.type("A label"),
  );
  await saved(page);
  await act(() => page.getByRole("button", { name: "Send", exact: true }).click());
  const dialog = page.getByRole("dialog", { name: "Send" });
  await dialog.getByRole("radio", { name: /tracker/ }).check(); // the first time; it is remembered
  await expect(dialog.getByRole("listitem").filter({ hasText: "picture-1.png" })).toBeVisible();
  await accessible(page);
  await act(() => dialog.getByRole("button", { name: "Send", exact: true }).click());
  const there = dialog.getByRole("status").getByRole("link");
  await expect(there).toBeVisible();
  const address = await there.getAttribute("href");
  expect(actions).toBeLessThanOrEqual(9);

  // At the tracker: the words, where it was, and the picture with its marks.
  const dev = await (await browser.newContext()).newPage();
  await dev.goto(address ?? "");
  expect(address).toContain(tracker);
  await expect(dev.getByText(said, { exact: true })).toBeVisible();
  await expect(dev.getByRole("heading", { name: "What was expected" })).toBeVisible();
  await expect(dev.getByText(/Browser: Chromium on/)).toBeVisible();
  const red = await dev.getByRole("img", { name: /picture-1/ }).evaluate((img: HTMLImageElement) => {
    const on = new OffscreenCanvas(img.naturalWidth, img.naturalHeight).getContext(
      "2d",
    ) as OffscreenCanvasRenderingContext2D;
    on.drawImage(img, 0, 0);
    const { data } = on.getImageData(0, 0, img.naturalWidth, img.naturalHeight);
    let n = 0;
    for (let i = 0; i < data.length; i += 4) if ((data[i] ?? 0) > 150 && (data[i + 1] ?? 0) < 90) n++;
    return n;
  });
  expect(red).toBeGreaterThan(2000);
  await dev.getByLabel("State").selectOption("fixed");
  await dev.getByLabel("Say something").fill("Fixed in 4.3");
  await dev.getByRole("button", { name: "Keep" }).click();
  await expect(dialog.getByRole("status")).toContainText("fixed");
  await dialog.getByRole("button", { name: "Close" }).click();
  await expect(page.getByRole("complementary", { name: "Remarks" })).toContainText("Fixed in 4.3");
  leaves(page);

  // It stands under Reports, and is read by whoever may.
  await page.goto("/reports");
  await expect(page.getByRole("listitem").first()).toContainText("Bug report");
  await accessible(page);
  await dev.context().close();
});

test("a step that fails is reported from where it is followed; the report becomes a procedure; each knows the other", async ({
  page,
}) => {
  await signIn(page);
  const title = `Print a label ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [
    { words: "Open the lid" },
    { words: "Press Print", picture: screen },
  ]);
  await page.goto(`/d/${id}?step=2`);
  await page.getByRole("button", { name: "It fails here: report step 2" }).click();
  await expect(page.getByRole("textbox", { name: "Title" })).toHaveValue(`Step 2 of “${title}” fails`);
  await page.keyboard.type("Nothing comes out");
  await saved(page);
  await expect(page.getByRole("group", { name: /What was expected/ })).toContainText("Press Print");
  await expect(page.getByRole("button", { name: /Mark the picture of “What was expected”/ })).toBeVisible();
  await expect(page.getByText("Made of")).toContainText(title);
  await page.getByRole("button", { name: "Make a procedure of it" }).click();
  await expect(page.getByText("Made of")).toContainText(`Step 2 of “${title}” fails`);
  await expect(page.locator("[data-block]").first()).toContainText("Nothing comes out");
  await page.goto(`/d/${id}/write`);
  await expect(page.getByText("A bug report was made of it")).toContainText("fails");
});

test("what happens after a shot is chosen for its source, and one key keeps the next one only", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `In hand ${Date.now()}`, [{ words: "Begin" }]);
  await openManuscript(page, id); // it is the document in hand
  await openCapture(page, { what: "monitor" });
  await startPractice(page);
  await choices(page);
  await page.getByLabel("Add each shot to the document in hand").check();
  await accessible(page);
  const steps = async () => (await onServer(page, id)).blocks.length;
  await page.getByRole("button", { name: "Take" }).click();
  await expect.poll(steps).toBe(2);
  await expect(page.getByText(/Added to “In hand/)).toBeVisible();
  await page.getByRole("button", { name: "Only keep the next" }).click();
  await page.getByRole("button", { name: "Take" }).click();
  await arrived(page, 2);
  await page.getByRole("button", { name: "Take" }).click();
  await expect.poll(steps).toBe(3); // the one between was kept in the session alone

  // What is pasted has choices of its own: it is shown as it would go to a receiver, and goes when a person says so.
  await choices(page);
  await page.getByLabel("with a shot from").selectOption("clipboard");
  await page.getByLabel("Report it to").selectOption({ index: 1 });
  await copy(page, grey(90));
  await page.locator("body").press("Control+v");
  const send = page.getByRole("dialog", { name: "Send" });
  await expect(send).toBeVisible();
  await expect(send.getByRole("list", { name: "Files that go with it" })).toContainText("picture-1");
});
