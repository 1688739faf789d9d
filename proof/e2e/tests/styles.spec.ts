import { expect, type Page, test } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { choose, accessible, file, grey, makeDocument, openManuscript, png, saved, signIn } from "./support";

const run = (name: string, ...args: string[]) => execFileSync(name, args, { encoding: "utf8" });

/** Presses a button that ends in a finished delivery, and saves its file. */
async function delivered(page: Page, press: () => Promise<void>) {
  await press();
  const link = page.getByRole("link", { name: /^Download/ });
  const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
  const path = join(mkdtempSync(join(tmpdir(), "raconte-")), download.suggestedFilename());
  await download.saveAs(path);
  return path;
}

test("a style is made on the pages themselves; what ships stays, documents name it, and revisions keep it", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const name = `Wall ${Date.now()}`;
  const title = `In style ${name}`;
  const { id } = await makeDocument(page.request, title, [
    { words: "Scan the card", picture: grey(120) },
    { words: "Press Go", picture: grey(121) },
  ]);
  await page.goto("/setup/styles");
  await page.getByRole("link", { name: "Plain", exact: true }).click();
  await page.getByRole("button", { name: "Show another document" }).click();
  await expect(async () => {
    await page.getByLabel("Title or number").fill("");
    await page.getByLabel("Title or number").fill(title);
    await expect(page.getByRole("button", { name: title })).toBeVisible({ timeout: 1000 });
  }).toPass(); // the search is a moment behind
  await page.getByRole("button", { name: title }).click();
  const first = page.locator("svg[aria-label='Page 1']");
  await expect(first.getByText(title).first()).toBeVisible();
  await accessible(page);
  // A press on a picture leads to the settings of pictures, one in the margin to those of paper.
  await first.locator("image").first().click();
  await expect(page.getByLabel("Width beside words: 56 %")).toBeFocused();
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByRole("combobox", { name: "Size", exact: true }).selectOption("a5");
  await expect(first).toHaveAttribute("viewBox", "0 0 419.53 595.28");
  const left = () => first.locator("text", { hasText: title }).first().getAttribute("x");
  const margin = page.getByRole("slider", { name: "Left margin" }).first();
  const at = await margin.locator("line").first().boundingBox();
  if (!at) throw new Error("the margin has no line");
  await page.mouse.move(at.x + at.width / 2, at.y + 300);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2 + 40, at.y + 300, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number(await left())).toBeGreaterThan(55);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect.poll(left).toBe("43");
  await page.getByRole("combobox", { name: "Language of what is printed" }).selectOption("de");
  await page.getByRole("button", { name: "Add a logo" }).click();
  await page.getByLabel("Add a logo").setInputFiles(
    file(
      "logo.png",
      png(80, 20, () => [200, 0, 0]),
    ),
  );
  await expect(first.getByRole("img", { name: "Logo" })).toBeVisible();
  await page.getByRole("button", { name: "Keep as a style of ours" }).click();
  await expect(page).toHaveURL(/\/styles\/[0-9a-f-]{36}$/);
  // A document names it, and goes out in it.
  await openManuscript(page, id);
  await choose(page, "Style", name);
  await saved(page);
  await page.getByRole("button", { name: "Release", exact: true }).click();
  await expect(page.getByText("Ready, revision 1")).toBeVisible(); // a page that is left too soon asks for nothing
  await page.goto(`/d/${id}/pages`);
  const pdf = await delivered(page, () => page.getByRole("button", { name: "Make the PDF" }).click());
  expect(run("pdfinfo", pdf)).toMatch(/Page size:\s+419.53 x 595.28 pts/);
  expect(run("pdftotext", pdf, "-")).toContain("Seite 1 von");
  expect(run("pdfimages", "-list", pdf).split("\n").length).toBeGreaterThan(4);
  // The style changes: what was released stays as it was.
  const kept = (await (await page.request.get("/api/housestyles")).json()).find(
    (s: { style: { name: string } }) => s.style.name === name,
  );
  const changed = { ...kept.style, language: "fr" };
  const put = { version: kept.version, style: changed };
  expect((await page.request.put(`/api/housestyles/${kept.id}`, { data: put })).status()).toBe(200);
  expect((await page.request.put(`/api/housestyles/${kept.id}`, { data: put })).status(), "made from an old one").toBe(
    409,
  );
  const reader = await (await browser.newContext()).newPage();
  await signIn(reader, "ruben");
  await reader.goto(`/d/${id}/pages`);
  await expect(reader.getByText(/^Seite 1 von/)).toBeVisible();
  await reader.close();
});

test("a file is chosen by form, steps and quality, with the size that it will have", async ({ page }) => {
  await signIn(page);
  const title = `Chosen ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [
    { words: "Alpha", picture: png(900, 500, (x, y) => [x % 256, y % 256, (x * y) % 256]) },
    { words: "Beta", picture: grey(122) },
    { words: "Gamma" },
  ]);
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  const dialog = page.getByRole("dialog");
  await accessible(page);
  await dialog.getByRole("radio", { name: "Word processor (DOCX)" }).check();
  await dialog.getByRole("checkbox", { name: "2 Beta" }).uncheck();
  await expect(dialog.getByText("Steps, 2 of 3")).toBeVisible();
  const weight = async (name: RegExp) => {
    const row = dialog.locator("label", { has: page.getByRole("radio", { name }) });
    await expect(row).toContainText(/ [KM]B$/);
    const [, n, unit] = /([\d.]+) ([KM]B)$/.exec((await row.textContent()) ?? "") ?? [];
    return Number(n) * (unit === "MB" ? 1e6 : 1e3);
  };
  const usual = await weight(/^For print/);
  expect(await weight(/^Smallest/)).toBeLessThan(usual);
  const path = await delivered(page, () => dialog.getByRole("button", { name: "Make it" }).click());
  expect(path).toMatch(/\.docx$/);
  const said = run("unzip", "-p", path, "word/document.xml");
  expect(said).toContain("Alpha");
  expect(said).not.toContain("Beta");
  expect(said).toContain("Gamma");
  const weighs = run("stat", "-c", "%s", path);
  expect(Math.abs(Number(weighs) - usual) / usual, "as was said").toBeLessThan(0.1);
  // A PDF is closed by a password, which is not kept.
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  await dialog.getByText("Booklet, password and more").click();
  await dialog.getByLabel("Password that opens it").fill("pear tree");
  await dialog.getByLabel("It may not be printed").check();
  const closed = await delivered(page, () => dialog.getByRole("button", { name: "Make it" }).click());
  expect(run("pdfinfo", "-upw", "pear tree", closed)).toMatch(/Encrypted:\s+yes \(print:no copy:yes/);
  expect(run("pdftotext", "-upw", "pear tree", closed, "-")).toContain("Alpha");
  await page.goto(`/deliveries?document=${id}`);
  const row = page.getByRole("listitem").filter({ hasText: "PDF" });
  await row.getByRole("button", { name: "Again from the present document" }).click();
  await expect(row.getByText("The file had a password, which is not kept.")).toBeVisible();
});

test("a procedure is copied with its pictures, and printed as its pages are", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await signIn(page);
  const { id } = await makeDocument(page.request, `Copied ${Date.now()}`, [
    { words: "Alpha <b>", picture: grey(123) },
    { words: "Beta", picture: grey(124) },
  ]);
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  await page.getByRole("button", { name: "Copy with pictures" }).click();
  await expect(page.getByText("Copied with its pictures.").first()).toBeVisible();
  const pasted = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    const read = async (type: string) => (item ? (await item.getType(type)).text() : "");
    const body = new DOMParser().parseFromString(await read("text/html"), "text/html").body;
    return {
      words: body.innerText,
      pictures: await Promise.all(
        [...body.querySelectorAll("img")].map(async (i) => {
          const picture = new Image();
          picture.src = i.src;
          await picture.decode();
          return picture.naturalWidth;
        }),
      ),
      plain: await read("text/plain"),
    };
  });
  expect(pasted.words).toMatch(/Alpha <b>[^]*Beta/);
  expect(pasted.pictures).toEqual([718, 718]); // 470 points at 110 dots to an inch
  expect(pasted.plain).toMatch(/1\. Alpha <b>[^]*2\. Beta/);
  await page.getByRole("button", { name: "Copy as Markdown" }).click();
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toContain("Alpha \\<b\\>");
  await page.getByRole("button", { name: "Cancel" }).click();
  await choose(page, "Layout", "One step to a page");
  await expect(page.getByText("2 pages")).toBeVisible();
  const path = join(mkdtempSync(join(tmpdir(), "raconte-")), "printed.pdf");
  await page.pdf({ path, preferCSSPageSize: true });
  expect(run("pdfinfo", path)).toMatch(/Pages:\s+2/);
  expect(run("pdfinfo", path)).toMatch(/Page size:\s+59[45].* x 84[12]/);
  expect(run("pdftotext", "-f", "2", path, "-")).toMatch(/Beta[^]*Page 2 of 2/);
});

test("what is to settle stands at its page, and leads to where it is settled", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Unsettled ${Date.now()}`, [
    { words: "Scan the card", picture: grey(125) },
    { picture: grey(126) },
  ]);
  await page.goto(`/d/${id}/pages?layout=one`);
  const remark = page.locator("#page-2").getByRole("listitem").filter({ hasText: "Must fix" });
  await expect(remark).toContainText("Step 2");
  await accessible(page);
  await remark.getByRole("link").click();
  await expect(page).toHaveURL(/\/write\?block=/);
  await expect(page.getByRole("group", { name: "Words of step 2" })).toBeVisible();
});
