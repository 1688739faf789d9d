// What people do all day, walked as they do it: each job counts its own actions against docs/jobs.md.
import { expect, test } from "@playwright/test";
import { readFileSync } from "node:fs";
import { arrived, clickDesk, desk, openCapture, startPractice } from "./capturing";
import { screen } from "./figures";
import { job } from "./jobs";
import { browserOf, copy, drag, leaves, makeDocument, notices, openManuscript, saved, signIn, steps } from "./support";

test("a procedure of seven steps, from the first click to its release", async ({ page }) => {
  await signIn(page);
  await openCapture(page, { what: "window", when: "click" });
  await startPractice(page);
  const begun = (await arrived(page, 3).catch(() => [])).length; // signing in is recorded, too
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("menuitem", { name: "Begin a new session" }).click();
  expect(begun).toBeGreaterThanOrEqual(0);
  const { act, done } = job("seven-step procedure");
  const ways = [desk.menuShow, desk.seasonPlan, desk.rooms, desk.alarms, desk.menuShow, desk.rooms, desk.alarms];
  for (const at of ways) await act(() => clickDesk(page, ...at));
  await arrived(page, 7);
  await act(() => page.getByRole("button", { name: "Place as steps" }).click());
  await act(() => page.getByRole("dialog").getByRole("button", { name: "Place", exact: true }).click());
  await expect(steps(page).first()).toBeVisible();
  const title = `Look at the rooms ${Date.now()}`;
  await act(() => page.getByRole("textbox", { name: "Title" }).click());
  await act(
    () => page.keyboard.press("Control+a"),
    () => page.keyboard.type(title),
  );
  const outline = page.getByRole("navigation", { name: "Steps" });
  await act(() => outline.getByRole("button", { name: /^1/ }).click());
  for (let n = 1; n <= 7; n++) {
    await expect(page.getByRole("textbox", { name: `Words of step ${n}` })).toBeFocused();
    await act(() => page.keyboard.type(" Then look."));
    if (n < 7) await act(() => page.keyboard.press("Control+ArrowDown"));
  }
  await saved(page);
  await act(() => page.getByRole("button", { name: "Release", exact: true }).click());
  const open = page.getByRole("alertdialog").or(page.getByRole("dialog"));
  await expect(open.or(notices(page).getByText(/Readers|released/i))).toBeVisible();
  if (await open.isVisible()) await act(() => open.getByRole("button", { name: /Release/ }).click());
  await expect(page.getByText("Ready, revision 1")).toBeVisible();
  await expect(steps(page).nth(6)).toContainText("Then look.");
  done();
});

test("one picture: cropped and saved under a name, mailed, its text copied", async ({ page }) => {
  await signIn(page);
  await page.goto("/picture");
  await expect(page.getByRole("heading", { name: "Just one picture" })).toBeVisible();
  await copy(page, screen());
  const crop = job("picture cropped and saved under a name");
  await crop.act(() => page.keyboard.press("Control+v"));
  await expect(page.getByRole("application")).toBeVisible();
  await crop.act(() => page.keyboard.press("c"));
  await crop.act(() => drag(page, [0.2, 0.25], [0.45, 0.45]));
  await crop.act(() => page.getByRole("button", { name: "Save it" }).click());
  const download = page.waitForEvent("download");
  await crop.act(
    () => page.keyboard.type("The field"),
    () => page.keyboard.press("Enter"),
  );
  const file = await download;
  expect(file.suggestedFilename()).toBe("The field.png");
  const header = readFileSync(await file.path());
  expect([header.readUInt32BE(16), header.readUInt32BE(20)], "width and height of what was cropped").toEqual([
    300, 140,
  ]);
  crop.done();

  const mail = job("picture mailed");
  const draft = page.waitForEvent("download");
  await mail.act(() => page.getByRole("button", { name: "Mail it" }).click());
  expect(readFileSync(await (await draft).path(), "utf8")).toContain("image/png");
  mail.done();

  const text = job("text of a picture copied");
  await text.act(() => page.getByRole("button", { name: "Text in it" }).click());
  await expect(page.getByRole("button", { name: "Copy the text" })).toBeVisible();
  await text.act(() => page.getByRole("button", { name: "Copy the text" }).click());
  text.done();
});

test("three steps are copied with their pictures, a shot is placed, a document is shared and sent for review", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(
    page.request,
    `Jobs ${Date.now()}`,
    [1, 2, 3, 4].map((n) => ({ words: `Do thing ${n}`, picture: screen(n * 10) })),
  );
  await openManuscript(page, id);
  const three = job("three steps copied with pictures");
  await three.act(() => page.getByRole("checkbox", { name: "Choose step 1" }).click());
  await three.act(() => page.getByRole("checkbox", { name: "Choose step 3" }).click({ modifiers: ["Shift"] }));
  await three.act(() => page.getByRole("button", { name: "Copy with pictures" }).click());
  await expect(notices(page).getByText("3 blocks are on the clipboard")).toBeVisible();
  const html = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    return (await item?.getType("text/html"))?.text();
  });
  expect(html?.match(/<img/g)).toHaveLength(3);
  expect(html).toContain("Do thing 3");
  expect(html).not.toContain("Do thing 4");
  three.done();
  await page.getByRole("button", { name: "Choose none" }).click();

  // Who reads it tells of a step that fails.
  await page.getByRole("button", { name: "Release", exact: true }).click();
  const left = page.getByRole("alertdialog").or(page.getByRole("dialog"));
  await expect(left.or(page.getByText("Ready, revision 1"))).toBeVisible();
  if (await left.isVisible()) await left.getByRole("button", { name: /Release/ }).click();
  await expect(page.getByText("Ready, revision 1")).toBeVisible();
  const share = job("shared by a link");
  await share.act(() => page.getByRole("button", { name: "Share", exact: true }).click());
  const dialog = page.getByRole("dialog", { name: /Share/ });
  await share.act(() => page.keyboard.type("The night shift"));
  await share.act(() => dialog.getByRole("button", { name: /Make/ }).click());
  await expect(dialog.getByText(/\/s\/[A-Za-z0-9_-]{20}/)).toBeVisible();
  share.done();
  await page.keyboard.press("Escape");

  const reader = await browserOf(browser, "ruben");
  await reader.goto(`/d/${id}?step=2`);
  const fails = job("step that fails, told by a reader");
  await fails.act(() => reader.getByRole("button", { name: /It fails here/ }).click());
  await fails.act(() => reader.keyboard.type("Nothing happens"));
  await fails.act(() =>
    reader
      .getByRole("dialog")
      .getByRole("button", { name: /Tell|Send/ })
      .click(),
  );
  await expect(reader.getByRole("dialog")).toHaveCount(0);
  fails.done();
  await reader.context().close();

  const review = job("asked for review");
  await review.act(() => page.getByRole("button", { name: "Ask for review" }).click());
  await review.act(() =>
    page
      .getByRole("dialog")
      .getByRole("checkbox", { name: /Adaeze/ })
      .click(),
  );
  await review.act(() =>
    page
      .getByRole("dialog")
      .getByRole("button", { name: /Ask|Send/ })
      .click(),
  );
  await expect(page.getByRole("link", { name: /In review/ })).toBeVisible();
  review.done();
});

test("a fault is reported with a marked picture, and with a clip as GIF", async ({ page }) => {
  await signIn(page);
  await page.goto("/picture");
  await expect(page.getByRole("heading", { name: "Just one picture" })).toBeVisible();
  await copy(page, screen());
  const sends = async ({ act, done }: ReturnType<typeof job>, file: RegExp) => {
    await act(() => page.getByRole("button", { name: "Send", exact: true }).click());
    const dialog = page.getByRole("dialog", { name: "Send" });
    await dialog.getByRole("radio", { name: /tracker/ }).check(); // the first time; it is remembered
    await expect(dialog.getByRole("listitem").filter({ hasText: file })).toBeVisible();
    await expect(dialog.getByLabel("The text as it will be")).not.toContainText("**");
    await act(() => dialog.getByRole("button", { name: "Send", exact: true }).click());
    await expect(dialog.getByRole("status").getByRole("link")).toBeVisible();
    done();
    await dialog.getByRole("button", { name: "Close" }).click();
  };
  const still = job("bug report with a marked picture");
  await still.act(() => page.keyboard.press("Control+v"));
  await expect(page.getByRole("application")).toBeVisible();
  await still.act(
    () => page.keyboard.press("w"),
    () => drag(page, [0.24, 0.27], [0.42, 0.39]),
  );
  await still.act(() => page.getByRole("button", { name: "Report a fault" }).click());
  await expect(page.getByRole("textbox", { name: /What happened/ })).toBeFocused();
  await still.act(() => page.keyboard.type("The field stays empty"));
  await still.act(() => page.keyboard.press("Control+ArrowDown"));
  await expect(page.getByRole("textbox", { name: /What was expected/ })).toBeFocused();
  await still.act(() => page.keyboard.type("A number"));
  await saved(page);
  await sends(still, /picture-1\.png/);

  await openCapture(page, { what: "window", film: { countdown: 0 } });
  await page.evaluate(() => localStorage.setItem("raconte-clip-form", "gif")); // chosen once, and remembered
  await startPractice(page);
  const clip = job("bug report with a clip as GIF");
  await clip.act(() => page.getByRole("button", { name: /^Record/ }).click());
  await clickDesk(page, ...desk.rooms);
  await clip.act(() => page.getByRole("button", { name: /^End/ }).click());
  const recorded = (await arrived(page, 2)).at(-1); // after the picture that was pasted
  await clip.act(() => page.locator(`[data-shot="${recorded?.id}"] a`).click());
  await expect(page.getByRole("button", { name: "Finished clip" })).toBeVisible();
  await clip.act(() => page.getByRole("button", { name: "Report a fault" }).click());
  await expect(page.getByRole("textbox", { name: /What happened/ })).toBeFocused();
  await clip.act(() => page.keyboard.type("It moves away"));
  await saved(page);
  await sends(clip, /clip-1\.gif/);
  leaves(page);
});
