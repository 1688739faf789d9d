import { expect, test } from "@playwright/test";
import {
  accessible,
  grey,
  makeDocument,
  onServer,
  openManuscript,
  order,
  password,
  saved,
  signIn,
  steps,
  words,
  write,
} from "./support";

test("steps are moved by keyboard and by dragging, merged and deleted; undo survives a reload", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Order", [
    { words: "Alpha", picture: grey(1) },
    { words: "Beta" },
    { words: "Gamma", picture: grey(3) },
  ]);
  await openManuscript(page, id);
  await accessible(page);
  await page.getByRole("button", { name: "Move step 1: press Space" }).focus();
  await page.keyboard.press("Alt+ArrowDown");
  await expect.poll(() => order(page)).toEqual(["Beta", "Alpha", "Gamma"]);

  const grip = page.getByRole("button", { name: "Move step 3: press Space" });
  await grip.scrollIntoViewIfNeeded();
  const from = await grip.boundingBox();
  const to = await steps(page).first().boundingBox();
  await page.mouse.move((from?.x ?? 0) + 8, (from?.y ?? 0) + 8);
  await page.mouse.down();
  await page.mouse.move((from?.x ?? 0) + 8, (to?.y ?? 0) + 60, { steps: 12 });
  await page.mouse.move((from?.x ?? 0) + 8, (to?.y ?? 0) + 20, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => order(page)).toEqual(["Gamma", "Beta", "Alpha"]);

  await page.getByRole("button", { name: "Actions for the picture of step 1" }).click();
  await page.getByRole("menuitem", { name: "Move the picture to the step below" }).click();
  await expect(page.getByRole("button", { name: "Mark the picture of step 2" })).toBeVisible();
  await page.getByRole("button", { name: "Actions for step 3" }).click();
  await page.getByRole("menuitem", { name: "Delete step" }).click();
  await expect.poll(() => order(page)).toEqual(["Gamma", "Beta"]);
  await saved(page);

  await page.reload();
  for (let i = 0; i < 4; i++) await page.getByRole("button", { name: "Undo", exact: true }).first().click();
  await expect.poll(() => order(page)).toEqual(["Alpha", "Beta", "Gamma"]);
  await expect(page.getByRole("button", { name: "Mark the picture of step 3" })).toBeVisible();
  await page.keyboard.press("Control+Shift+z");
  await expect.poll(() => order(page)).toEqual(["Beta", "Alpha", "Gamma"]);
  await saved(page);
  const kept = await onServer(page, id);
  expect(kept.blocks.map((s) => JSON.stringify(s.content.words).match(/Alpha|Beta|Gamma/)?.[0])).toEqual([
    "Beta",
    "Alpha",
    "Gamma",
  ]);
});

test("words take styles, keys, controls, lists, links and references that follow their marker", async ({ page }) => {
  await signIn(page);
  const marker = (id: string, turn: number) => ({
    id,
    kind: "marker",
    points: [{ x: 100 * turn, y: 100 }],
    ink: "blue",
    weight: "medium",
    turn,
  });
  const { id } = await makeDocument(page.request, "Words", [
    { picture: grey(200), marks: [marker("m1", 1), marker("m2", 2)] },
  ]);
  await openManuscript(page, id);
  const box = await write(page, 1, "Press ");
  const tool = (name: string) =>
    page.getByRole("toolbar", { name: "Style of the words" }).getByRole("button", { name, exact: true });
  await tool("Key").click();
  await page.keyboard.type("F8");
  await tool("Key").click();
  await page.keyboard.type(" or ");
  await tool("Name of a control").click();
  await page.keyboard.type("Receive lot");
  await tool("Name of a control").click();
  await page.keyboard.type(" at ");
  await tool("Refer to marker 2").click();
  await page.keyboard.press("Enter");
  await tool("List").click();
  await page.keyboard.type("see ");
  await tool("Link").click();
  await page.getByLabel("Address: https://… or mailto:…").fill("javascript:alert(1)");
  await page.getByRole("button", { name: "Link" }).last().click();
  await expect(page.getByText("A link starts with https://")).toBeVisible();
  await page.getByLabel("Address: https://… or mailto:…").fill("https://pellworth.example/rooms");
  await page.getByRole("button", { name: "Link" }).last().click();
  await expect(box.locator("kbd")).toHaveText("F8");
  await expect(box.locator("ul a")).toHaveText("https://pellworth.example/rooms");
  await expect(box.locator(".marker-ref")).toHaveText("2");
  await page.keyboard.press("Escape");
  await saved(page);

  await page.getByRole("button", { name: "Mark the picture of step 1" }).click();
  await page.getByRole("button", { name: "Marker 1", exact: true }).click();
  await page.getByRole("button", { name: "Delete mark" }).click();
  await expect(page.locator("main .marker-ref")).toHaveText("1");
  await page.getByRole("button", { name: "Marker 1", exact: true }).click();
  await page.getByRole("button", { name: "Delete mark" }).click();
  await page.getByRole("button", { name: "Close the picture" }).click();
  await expect(page.getByText("Step 1 refers to a marker that is gone")).toBeVisible();
});

test("two people change one step: the second is shown both and chooses, and undo brings the other back", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Together", [{ words: "Start" }, { words: "Quiet" }]);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "tomasz");
  await openManuscript(page, id);
  await openManuscript(other, id);

  await write(other, 2, " here");
  await expect(words(page, 2)).toContainText("here");

  await page.route("**/changes", (r) => (r.request().method() === "POST" ? r.abort() : r.continue()));
  await write(page, 1, " from Ines");
  await page.keyboard.press("Escape");
  await other.keyboard.press("Escape");
  await expect(other.getByText("is writing")).toBeHidden(); // else they are asked whether to take it over
  await write(other, 1, " from Tomasz");
  await saved(other);
  const conflict = page.getByRole("alert", { name: "Two versions of step 1" });
  await expect(conflict).toContainText("from Ines");
  await expect(conflict).toContainText("from Tomasz");
  await page.unrouteAll();
  await accessible(page);
  await page.getByRole("button", { name: "Use theirs" }).click();
  await expect(words(page, 1)).toContainText("from Tomasz");
  await page.getByRole("button", { name: "Undo", exact: true }).first().click();
  await expect(words(page, 1)).toContainText("from Ines");
  await expect.poll(async () => JSON.stringify(await onServer(page, id))).toContain("from Ines");
  await other.context().close();
});

test("a step without words is a must-fix finding and blocks; once fixed, ready makes a revision that readers keep", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Ready ${Date.now()}`, [
    { words: "Do this", picture: grey(90) },
    { picture: grey(60) },
  ]);
  await openManuscript(page, id);
  await expect(page.getByText("Must fix: Step 2 has no words")).toBeVisible();
  await expect(page.getByRole("button", { name: "Release", exact: true })).toBeDisabled();
  const { seq } = (await (await page.request.get(`/api/documents/${id}`)).json()) as { seq: number };
  const put = (seen: number) => page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq: seen } });
  expect((await put(seq)).status()).toBe(422);
  expect((await put(seq - 1)).status(), "nobody releases what they have not seen").toBe(409);
  await page.getByRole("button", { name: "Write the words", exact: true }).click();
  await expect(page.getByRole("textbox", { name: "Words of step 2" })).toBeFocused();
  await page.keyboard.type("Then that");
  await page.keyboard.press("Escape");
  await saved(page);
  await page.getByRole("button", { name: "Release", exact: true }).click();
  await expect(page.getByText("Ready, revision 1")).toBeVisible();

  await write(page, 1, " changed afterwards");
  await saved(page);
  await expect(page.getByText("Draft after revision 1")).toBeVisible();
  const reader = await (await browser.newContext()).newPage();
  await signIn(reader, "ruben");
  await reader.goto(`/d/${id}`);
  await expect(reader.getByText("Do this")).toBeVisible();
  await expect(reader.getByText("changed afterwards")).toHaveCount(0);
  await reader.context().close();
});

test("what was written when the page crashed is there when it is opened again, and its history too", async ({
  page,
  context,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Crashed", [{ words: "Before" }]);
  await openManuscript(page, id);
  await page.route("**/changes", (r) => (r.request().method() === "POST" ? r.abort() : r.continue()));
  await write(page, 1, " and after");
  await expect(page.getByRole("status").filter({ hasText: "Kept in this browser" })).toBeVisible();
  const crash = await context.newCDPSession(page);
  const gone = page.waitForEvent("crash");
  void crash.send("Page.crash").catch(() => undefined);
  await gone;
  const again = await context.newPage();
  await openManuscript(again, id);
  await expect(words(again, 1)).toContainText("Before and after");
  await saved(again);
  await again.keyboard.press("Control+z");
  await expect(words(again, 1)).not.toContainText("and after");
});

test("the address says what is open: links lead there, and Back works", async ({ page }) => {
  await signIn(page);
  const { id, figures } = await makeDocument(
    page.request,
    "Addressed",
    Array.from({ length: 30 }, (_, n) => ({ words: `Step ${n}`, ...(n === 20 && { picture: grey(90) }) })),
  );
  await openManuscript(page, id);
  await page.getByRole("navigation", { name: "Steps" }).getByRole("button", { name: "Step 20" }).click();
  const picture = page.getByRole("button", { name: "Mark the picture of step 21" });
  await expect(picture).toBeInViewport();
  await picture.click();
  await expect(page).toHaveURL(new RegExp(`picture=${figures[0]}`));
  await expect(page.getByRole("application")).toBeVisible();
  await page.reload();
  await expect(page.getByRole("application")).toBeVisible();
  await page.goBack();
  await expect(picture).toBeInViewport();
  await page.goForward();
  await page.keyboard.press("Escape");
  await expect(picture).toBeFocused();
});

test("a session that ends leads to sign-in and back, with nothing lost", async ({ page, context }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Signed out", [{ words: "Kept" }]);
  const opened = page.waitForResponse(/\/replays$/); // the last that is asked for when a document is opened
  await openManuscript(page, id);
  await opened;
  await context.clearCookies();
  await write(page, 1, " and written on");
  const again = page.getByRole("dialog", { name: "Sign in again to go on" });
  await expect(again).toBeVisible();
  await accessible(page);
  await again.getByLabel("Password").fill(password);
  await again.getByRole("button", { name: "Sign in" }).click();
  await expect(again).toBeHidden();
  await expect(words(page, 1)).toContainText("Kept and written on");
  await saved(page);
  expect(JSON.stringify((await onServer(page, id)).blocks)).toContain("Kept and written on");
});
