import { readFileSync } from "node:fs";
import { expect, type Page, test } from "@playwright/test";
import {
  choose,
  accessible,
  grey,
  makeDocument,
  notices,
  onServer,
  openManuscript,
  saved,
  signIn,
  steps,
  words,
} from "./support";

const act = async (page: Page, on: string, choice: string) => {
  await page.getByRole("button", { name: `Actions for ${on}`, exact: true }).click();
  await page.getByRole("menuitem", { name: choice, exact: true }).click();
};

/** Marks a document ready as one who has seen it as it is now. */
async function release(page: Page, id: string) {
  const { seq } = (await (await page.request.get(`/api/documents/${id}`)).json()) as { seq: number };
  const answer = await page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq } });
  expect(answer.status(), await answer.text()).toBe(200);
}

test("a procedure has a passage with a table, refers by name, hands over, and is followed there and back", async ({
  page,
  browser,
}) => {
  test.slow();
  await signIn(page);
  const stamp = Date.now();
  const part = await makeDocument(page.request, `Print a label ${stamp}`, [
    { words: "Press print", picture: grey(50) },
  ]);
  await release(page, part.id);
  const { id } = await makeDocument(page.request, `Receive ${stamp}`, [
    { words: "Weigh it" },
    { words: "Label it" },
    { words: "Shut the door" },
  ]);
  await openManuscript(page, id);

  await act(page, "step 1", "Add a passage above");
  await page.keyboard.type("Before you start");
  await page.getByRole("button", { name: "Table", exact: true }).click();
  await page.keyboard.type("Tool");
  await page.keyboard.press("Tab");
  await page.keyboard.type("Place");
  await page.keyboard.press("Tab");
  await page.keyboard.type("Scanner");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("cell", { name: "Scanner" })).toBeVisible();

  await words(page, 1).click();
  await page.keyboard.press("End");
  await page.keyboard.type(", then ");
  await page.getByRole("button", { name: /^Refer to/ }).click();
  await page.getByLabel("What to refer to").fill("step 3");
  await page.getByLabel("What to refer to").press("Enter");
  await page.keyboard.press("Escape");
  await expect(words(page, 1)).toContainText("Weigh it, then step 3");
  await act(page, "step 1", "Add a step below");
  await page.keyboard.type("Wipe it");
  await page.keyboard.press("Escape");
  await expect(words(page, 1)).toContainText("then step 4"); // it counts as the page does

  await act(page, "step 3", "Do another procedure here");
  await page.getByLabel("Title or number").fill(`print label ${stamp}`);
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `Print a label ${stamp}` })
    .click();
  await act(page, "step 3", "Put a web link or a film beside it");
  await page.getByLabel("Address").fill("javascript:alert(1)");
  await page.getByRole("button", { name: "Put it there" }).click();
  await expect(page.getByText("An address starts with")).toBeVisible();
  await page.getByLabel("Address").fill("https://films.example/label");
  await page.getByLabel("Title, as readers see it").fill("The printer");
  await page.getByRole("button", { name: "Put it there" }).click();
  await act(page, "step 4", "It is a critical step");
  await accessible(page);
  await saved(page);
  await release(page, id);

  const reader = await (await browser.newContext()).newPage();
  await signIn(reader, "ruben");
  await reader.goto(`/d/${id}`);
  await expect(reader.getByRole("columnheader", { name: "Tool" })).toBeVisible();
  await reader.getByRole("link", { name: "step 4" }).click();
  await expect(reader).toHaveURL(/#/);
  await reader.getByRole("button", { name: "Follow one step at a time" }).click();
  await reader.getByRole("button", { name: "Next" }).click();
  await reader.getByRole("button", { name: "Next" }).click();
  await expect(reader.getByRole("link", { name: "The printer" })).toHaveAttribute(
    "href",
    "https://films.example/label",
  );
  await reader.getByRole("link", { name: `Print a label ${stamp}` }).click();
  await expect(reader.getByRole("heading", { name: "Step 1 of 1" })).toBeVisible();
  await reader.getByRole("button", { name: /^Open the picture large/ }).click();
  await reader.getByRole("button", { name: "Larger" }).click();
  await expect(reader.getByText("150 %")).toBeVisible();
  await accessible(reader);
  await reader.getByRole("button", { name: "Close" }).click();
  await reader.reload(); // the way back is kept
  await reader.getByRole("link", { name: `Back to “Receive ${stamp}”` }).click();
  await expect(reader.getByRole("heading", { name: "Step 3 of 4" })).toBeVisible();
  await reader.getByRole("button", { name: "Next" }).click();
  await expect(reader.getByRole("heading", { name: "Step 4 of 4" })).toBeVisible();
  await expect(reader.getByRole("button", { name: "Done", exact: true })).toBeDisabled(); // critical
  await reader.getByLabel("I have made sure of this step").check();
  await reader.getByRole("button", { name: "Done", exact: true }).click();
  await expect(reader.getByLabel("Step 4 is done")).toBeChecked();
  await reader.context().close();
});

test("steps are chosen together: moved, copied to another document, taken out into a procedure, deleted, each undone", async ({
  page,
}) => {
  await signIn(page);
  const stamp = Date.now();
  const other = await makeDocument(page.request, `Other ${stamp}`, []);
  const { id } = await makeDocument(
    page.request,
    `Chosen ${stamp}`,
    ["A one", "B two", "C three", "D four"].map((words) => ({ words })),
  );
  await openManuscript(page, id);
  const said = async () => (await steps(page).locator("[data-words]").allInnerTexts()).map((s) => s.trim().slice(0, 1));
  await page.getByLabel("Choose step 2").check();
  await page.getByLabel("Choose step 3").click({ modifiers: ["Shift"] });
  const bar = page.getByRole("toolbar", { name: "What to do with what is chosen" });
  await expect(bar).toContainText("2 blocks chosen");
  await bar.getByRole("button", { name: "Move up" }).click();
  await expect.poll(said).toEqual(["B", "C", "A", "D"]);
  await bar.getByRole("button", { name: "Duplicate" }).click();
  await expect.poll(said).toEqual(["B", "C", "B", "C", "A", "D"]);
  await page.keyboard.press("Control+z");
  await saved(page);
  await bar.getByRole("button", { name: "Copy to another document" }).click();
  await page.getByLabel("Title or number").fill(`Other ${stamp}`);
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `Other ${stamp}` })
    .click();
  await expect(notices(page)).toContainText("Copied 2 blocks");
  const { blocks } = (await onServer(page, other.id)) as unknown as { blocks: unknown[] };
  expect(JSON.stringify(blocks)).toContain("C three");

  await page.getByLabel("Choose step 1").check();
  await page.getByLabel("Choose step 2").check();
  await page.evaluate(() => scrollTo(0, 0));
  await accessible(page);
  await bar.getByRole("button", { name: "Take out into a procedure" }).click();
  await page.getByLabel("Its title: what will the reader be able to do?").fill(`Taken ${stamp}`);
  await page.getByRole("button", { name: "Take out", exact: true }).click();
  await expect(steps(page)).toHaveCount(3);
  await expect(page.getByRole("link", { name: `Taken ${stamp}` })).toBeVisible();
  await saved(page);
  await page.getByRole("link", { name: `Taken ${stamp}` }).click();
  await expect(page.getByLabel("Title", { exact: true })).toHaveValue(`Taken ${stamp}`);
  await expect(steps(page)).toHaveCount(2);
  // It can't lead back: whoever saves that is told so, and nothing is lost.
  await act(page, "step 1", "Do another procedure here");
  await page.getByLabel("Title or number").fill(`Chosen ${stamp}`);
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `Chosen ${stamp}` })
    .click();
  await expect(page.getByRole("alert").filter({ hasText: "lead back to" })).toBeVisible();
  await page.getByLabel("Title", { exact: true }).fill(`Kept ${stamp}`);
  await page.keyboard.press("Enter");
  await expect
    .poll(async () => (await onServer(page, new URL(page.url()).pathname.split("/")[2] ?? "")).summary.title)
    .toBe(`Kept ${stamp}`);
});

test("a manual is made of procedures, has a title page and an index, and shows revisions that are newer", async ({
  page,
}) => {
  test.slow();
  await signIn(page);
  const stamp = Date.now();
  const one = await makeDocument(page.request, `Open up ${stamp}`, [{ words: "Unlock it" }]);
  await release(page, one.id);
  await page.getByRole("button", { name: "Write a manual" }).click();
  await page.getByLabel("Title: what will the reader be able to do?").fill(`Handbook ${stamp}`);
  await page.getByRole("button", { name: "Create" }).click();
  await page.getByRole("button", { name: "Add a chapter" }).click();
  await page.getByLabel("Title or number").fill(`open up ${stamp}`);
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `Open up ${stamp}` })
    .click();
  await expect(page.getByText("Always the valid revision, now 1")).toBeVisible();
  await act(page, "chapter 1", "Fix revision 1");
  await page.getByRole("button", { name: /^About this document/ }).click();
  await page.getByRole("button", { name: "Give the next" }).click();
  await expect(page.getByText(/^MA-\d+$/)).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Done" }).click();
  await saved(page);
  const id = page.url().split("/")[4] ?? "";

  const change = await page.request.post(`/api/documents/${one.id}/steps`, {
    data: {
      blocks: [
        {
          type: "step",
          words: {
            type: "doc",
            content: [{ type: "paragraph", content: [{ type: "text", text: "Switch the light on" }] }],
          },
          figures: [],
        },
      ],
    },
  });
  expect(change.status()).toBe(200);
  await release(page, one.id);
  await expect(page.getByText("Revision 2 is newer.")).toBeVisible();
  await page.goto(`/d/${id}`);
  await expect(page.getByText("Unlock it")).toBeVisible();
  await expect(page.getByText("Switch the light on")).toHaveCount(0);
  await page.goto(`/d/${id}/write`);
  await page.getByRole("button", { name: "Take it" }).click();
  await saved(page);
  await page.goto(`/d/${id}/pages`);
  await expect(page.locator("#page-1")).toContainText("Manual");
  await expect(page.locator("#page-2")).toContainText("Contents");
  await expect(page.locator("#page-3")).toContainText("Switch the light on");
});

test("one search over all; folders close; files from elsewhere come in; a PDF is filed and rewritten", async ({
  page,
  browser,
}) => {
  test.slow();
  await signIn(page);
  const stamp = String(Date.now());
  const docx = readFileSync("../../intake/prose/testdata/libreoffice.docx");
  await page
    .getByLabel("Bring in files", { exact: true })
    .last()
    .setInputFiles({ name: `weigh ${stamp}.docx`, mimeType: "application/octet-stream", buffer: docx });
  await page.getByRole("button", { name: "Open", exact: true }).click();
  await expect(page.getByLabel("Title", { exact: true })).toHaveValue("Weigh a bin");
  await expect(steps(page).locator("[data-figure]").first()).toBeVisible();
  await page.getByLabel("Title", { exact: true }).fill(`Weigh ${stamp}`);
  await page.keyboard.press("Enter");
  await saved(page);
  const id = page.url().split("/")[4] ?? "";
  await page.goto("/");
  await page.getByRole("searchbox").fill("platfrom"); // one letter is in the wrong place
  const hit = page.getByRole("listitem").filter({ hasText: `Weigh ${stamp}` });
  await expect(hit.locator("mark")).toHaveText("platform");
  await accessible(page);

  const admin = await (await browser.newContext()).newPage();
  await signIn(admin, "admin");
  await admin.goto("/setup");
  await admin.getByLabel("Find in Setup").fill("clos");
  await admin.getByLabel("Find in Setup").press("Enter");
  await expect(admin).toHaveURL(/folders$/);
  await admin.getByRole("button", { name: "Add a folder" }).click();
  await admin.getByLabel("Name", { exact: true }).fill(`Safe ${stamp}`);
  await admin.getByLabel("Open to everybody").uncheck();
  await admin.getByLabel("Ines Brackwater").check();
  await admin.getByLabel("Whom others ask").fill("Maud Selwyn");
  await admin.getByRole("button", { name: "Save" }).last().click();
  await expect(admin.getByText(`Safe ${stamp}`)).toBeVisible();
  await accessible(admin);
  await admin.context().close();

  await page.goto(`/?text=Weigh+${stamp}`);
  await act(page, `Weigh ${stamp}`, "Move to a folder");
  await choose(page.getByRole("dialog"), "Folder", `Safe ${stamp} (closed)`);
  await expect(page.getByRole("dialog")).toHaveCount(0);
  const tomasz = await (await browser.newContext()).newPage();
  await signIn(tomasz, "tomasz");
  await tomasz.goto(`/?text=Weigh+${stamp}`);
  await expect(tomasz.getByText("Nothing that you may open")).toBeVisible();
  await tomasz.goto(`/d/${id}`);
  await expect(tomasz.getByText("Ask Maud Selwyn for it")).toBeVisible();
  await expect(tomasz.getByText(`Weigh ${stamp}`)).toHaveCount(0);
  await tomasz.context().close();

  await page.goto("/?kind=filed");
  await page
    .getByRole("link", { name: /Ammonia leak/ })
    .last() // behind what was opened lately
    .click();
  await expect(page.getByRole("img", { name: "Page 1 of 2" })).toBeVisible();
  await expect
    .poll(() => page.getByRole("img", { name: "Page 1 of 2" }).evaluate((i) => (i as HTMLImageElement).naturalWidth))
    .toBeGreaterThan(1000);
  await accessible(page);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Save the PDF" }).click(),
  ]);
  const pdf = readFileSync(await download.path());
  await page.goto("/");
  await page
    .getByLabel("Bring in files", { exact: true })
    .last()
    .setInputFiles({ name: `Leak ${stamp}.pdf`, mimeType: "application/pdf", buffer: pdf });
  await page.getByRole("button", { name: "Open", exact: true }).click();
  await page.getByRole("button", { name: "Rewrite it as a procedure" }).click();
  await page.waitForURL(/\/write$/);
  await expect(page.getByRole("navigation", { name: "Steps" })).toContainText("Close the main valve");
  await expect(steps(page).locator("[data-figure]").first()).toBeVisible();
});
