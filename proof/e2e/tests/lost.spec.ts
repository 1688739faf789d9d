// What is typed, pasted and taken while the network is slow, says "later", breaks off, or the browser keeps nothing.
import { expect, type Page, test } from "@playwright/test";
import { openPicture, screen } from "./figures";
import {
  accessible,
  browserOf,
  copy,
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

const changes = "**/api/documents/*/changes";

/** What a document's steps say on the server. */
const said = async (page: Page, id: string) =>
  (await onServer(page, id)).blocks.map((b) => JSON.stringify(b.content.words).replace(/.*"text":"([^"]*)".*/, "$1"));

async function written(page: Page, title: string, n = 3) {
  await signIn(page);
  const made = await makeDocument(
    page.request,
    `${title} ${Date.now()}`,
    Array.from({ length: n }, (_, i) => ({ words: `Step ${i + 1}`, picture: grey(200 + i) })),
  );
  await openManuscript(page, made.id);
  return made.id;
}

test("a change that is to come later comes later; one that can't be taken is set aside with its words, and the rest is saved", async ({
  page,
}) => {
  const id = await written(page, "Later");
  let waits = 2;
  await page.route(changes, (route) =>
    waits-- > 0
      ? route.fulfill({ status: waits ? 429 : 503, headers: { "Retry-After": "1" }, json: { message: "Later." } })
      : route.continue(),
  );
  await write(page, 1, " is said");
  await saved(page);
  expect(waits).toBeLessThan(0);
  expect((await said(page, id))[0]).toBe("Step 1 is said");

  // The server takes no word of step 2: the other two are saved all the same, and it is told beside the step.
  await page.unroute(changes);
  await page.route(changes, (route) =>
    (route.request().postData() ?? "").includes("forbidden")
      ? route.fulfill({ status: 422, json: { message: "This word is not taken" } })
      : route.continue(),
  );
  await write(page, 2, " forbidden");
  await write(page, 3, " is fine");
  const told = page.getByRole("alert", { name: "This step was not saved" });
  await expect(told).toContainText("This word is not taken");
  await accessible(page);
  await expect.poll(async () => (await said(page, id))[2]).toBe("Step 3 is fine");
  expect((await said(page, id))[1]).toBe("Step 2");
  await expect(words(page, 2)).toContainText("forbidden");
  await page.reload();
  await expect(words(page, 2)).toContainText("forbidden"); // kept in this browser
  await page.unroute(changes);
  await told.getByRole("button", { name: "Try again" }).click();
  await saved(page);
  expect((await said(page, id))[1]).toBe("Step 2 forbidden");
});

test("what is answered late does not write over what was typed meanwhile, nor is one's own save taken for a colleague's", async ({
  page,
  browser,
}) => {
  // The same is concealed in the other pictures: the answer for the second comes when its words were changed.
  const id = await openPicture(page, `Slow ${Date.now()}`, [
    { words: "One", picture: screen() },
    { words: "Two", picture: screen(80, 60) },
  ]);
  let go: () => void = () => undefined;
  const held = new Promise<void>((done) => (go = done));
  await page.route("**/api/shots/*/targets", async (route) => {
    await held;
    await route.continue();
  });
  await page.keyboard.press("z");
  const box = await page.getByRole("application").boundingBox();
  if (!box) throw new Error("no picture");
  await page.mouse.move(box.x + 0.24 * box.width, box.y + 0.27 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.42 * box.width, box.y + 0.39 * box.height, { steps: 4 });
  await page.mouse.up();
  await page.getByRole("button", { name: "Conceal", exact: true }).last().click();
  await page.getByRole("button", { name: "Suggest what to conceal" }).click();
  const asked = page.waitForRequest("**/api/shots/*/targets");
  await page.getByRole("button", { name: "Conceal the same in the other pictures" }).click();
  await asked;
  await page.getByRole("button", { name: "Close the picture" }).click();
  await write(page, 2, " and more");
  go();
  await expect
    .poll(async () => (await onServer(page, id)).blocks[1]?.content.figures[0]?.marks.map((m) => m.kind))
    .toEqual(["concealment"]);
  await saved(page);
  expect((await said(page, id))[1]).toBe("Two and more");

  // Its answer is lost on the way; a colleague saves another step meanwhile: nobody is told that anybody else was at
  // it.
  await page.route(changes, async (route) => {
    await route.fetch();
    await route.abort("connectionreset");
    await page.unroute(changes);
  });
  await write(page, 1, " of mine");
  const other = await browserOf(browser, "tomasz");
  await openManuscript(other, id);
  await write(other, 2, ", says Tomasz");
  await saved(other);
  await saved(page);
  await expect(words(page, 2)).toContainText("says Tomasz");
  await expect(page.getByText(/changed this step too/)).toHaveCount(0);
  expect((await said(page, id))[0]).toBe("One of mine");
  await other.context().close();
});

test("two tabs of one person keep what each has written, though neither is saved and both are closed", async ({
  page,
  context,
}) => {
  const id = await written(page, "Tabs");
  const second = await context.newPage();
  await openManuscript(second, id);
  await context.route(changes, (route) => route.abort("internetdisconnected"));
  await write(page, 1, " from one");
  await write(second, 2, " from two");
  await expect(page.getByText(/Kept in this browser/)).toBeVisible();
  await expect(second.getByText(/Kept in this browser/)).toBeVisible();
  await page.close();
  await second.close();
  await context.unroute(changes);
  const third = await context.newPage();
  await openManuscript(third, id);
  await saved(third);
  await expect.poll(async () => (await said(third, id)).slice(0, 2)).toEqual(["Step 1 from one", "Step 2 from two"]);
});

test("a browser that keeps nothing says so, and works: words and pictures are saved on the server", async ({
  page,
}) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => {
      throw new DOMException("denied", "SecurityError");
    };
  });
  const id = await written(page, "Denied", 1);
  await expect(page.getByRole("alert").filter({ hasText: "This browser keeps nothing" })).toBeVisible();
  await accessible(page);
  await write(page, 1, " all the same");
  await copy(page, grey(90));
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+v");
  await expect(steps(page)).toHaveCount(2);
  await saved(page);
  await expect.poll(async () => (await onServer(page, id)).blocks.length).toBe(2);
  expect((await said(page, id))[0]).toBe("Step 1 all the same");
  await page.reload();
  await expect(words(page, 1)).toContainText("all the same");
});

test("a shot that the browser has no room for is told of at once, can be saved, and goes up all the same", async ({
  page,
}) => {
  await signIn(page);
  await page.addInitScript(() => {
    for (const kind of ["put", "add"] as const) {
      const keep = IDBObjectStore.prototype[kind];
      IDBObjectStore.prototype[kind] = function (...args: Parameters<typeof keep>) {
        if (this.name === "outgoing") throw new DOMException("full", "QuotaExceededError");
        return keep.apply(this, args);
      };
    }
  });
  let down = true;
  await page.route("**/api/captures/**", (route) =>
    down && route.request().method() === "PUT" ? route.abort("internetdisconnected") : route.continue(),
  );
  await page.goto("/capture");
  await expect(page.getByRole("button", { name: "Share a screen" })).toBeVisible();
  await copy(page, grey(77));
  await page.keyboard.press("Control+v");
  await expect(page.locator("[data-shot]")).toHaveCount(1);
  const told = page.getByRole("alert").filter({ hasText: "could not be kept in this browser" });
  await expect(told).toBeVisible();
  const file = page.waitForEvent("download");
  await told.getByRole("button", { name: "Save as files" }).click();
  expect((await file).suggestedFilename()).toMatch(/\.png$/);
  down = false;
  await expect(told).toHaveCount(0);
  await expect(page.getByText(/in this browser for the server/)).toHaveCount(0);
});
