import { expect, test } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { choose, accessible, grey, makeDocument, signIn } from "./support";

test("a page of the house's own is written beside what it shows; errors point to their lines", async ({ page }) => {
  await signIn(page);
  const name = `Ours ${Date.now()}`;
  const title = `For templates ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "Scan the card", picture: grey(150) }]);
  await page.goto("/setup/styles");
  await page.getByRole("button", { name: "Write a web page" }).click();
  await page.getByRole("menuitem", { name: "from the page" }).click();
  const source = page.getByRole("textbox", { name: "The template" });
  const preview = page.frameLocator("iframe[title=Preview]");
  await expect(preview.getByRole("heading", { level: 1 })).toBeVisible();
  await page.getByRole("button", { name: "Show another document" }).click();
  await expect(async () => {
    await page.getByLabel("Title or number").fill("");
    await page.getByLabel("Title or number").fill(title);
    await expect(page.getByRole("button", { name: title })).toBeVisible({ timeout: 1000 });
  }).toPass(); // the search is a moment behind
  await page.getByRole("button", { name: title }).click();
  await expect(preview.getByRole("heading", { name: title })).toBeVisible();
  await expect(preview.getByRole("img").first()).toBeVisible();
  await accessible(page);
  const write = async (text: string) => {
    await source.click();
    await page.keyboard.press("ControlOrMeta+a");
    await page.keyboard.insertText(text);
  };
  await write("<html><head></head><body>\n<h1>{{.Titel}}</h1>\n</body></html>");
  const errors = page.getByRole("list", { name: "What is wrong with it" });
  await expect(errors).toContainText("Line 2 .Titel is nothing that a document has.");
  await expect(preview.getByRole("heading", { name: title })).toBeVisible(); // the last that worked
  await write("<html><head></head><body>\n\n<script>parent.document.title = 'taken'</script></body></html>");
  await expect(errors).toContainText("Line 3 A template can't run script unless the administrator allows it.");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("Nothing was kept.");
  const own =
    '<html><head><style>h1 { color: #0b5f66 }</style></head><body><h1>House: {{.Title}}</h1>{{range .Blocks}}<div class="our-step">{{.HTML}}{{range .Pictures}}<img src="{{.Src}}" alt="{{.Alt}}">{{end}}</div>{{end}}</body></html>';
  await write(own);
  await expect(preview.getByRole("heading", { name: `House: ${title}` })).toHaveCSS("color", "rgb(11, 95, 102)");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByText("Kept.", { exact: true })).toBeVisible();
  const made = new URL(page.url()).pathname; // others may have pages of the same name
  await page.getByRole("link", { name: "Templates" }).click();
  await page
    .getByRole("listitem")
    .filter({ has: page.locator(`a[href="${made}"]`) })
    .getByRole("button", { name: /More for Our page/ })
    .click();
  await page.getByRole("menuitem", { name: "Rename" }).click();
  await page.getByRole("dialog").getByLabel("Name").fill(name);
  await page.getByRole("dialog").getByRole("button", { name: "Rename" }).click();
  await expect(page.getByRole("link", { name })).toBeVisible();
  // A document goes out through it.
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  await page.getByRole("radio", { name: "Web page", exact: true }).check();
  await choose(page, "Template", name);
  await page.getByRole("button", { name: "Make it" }).click();
  const link = page.getByRole("link", { name: /^Download/ });
  const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
  const path = join(mkdtempSync(join(tmpdir(), "raconte-")), "a.html");
  await download.saveAs(path);
  await page.goto(`file://${path}`);
  await expect(page.getByRole("heading", { name: `House: ${title}` })).toBeVisible();
  expect(await page.locator(".our-step img").evaluate((i: HTMLImageElement) => i.naturalWidth)).toBeGreaterThan(400);
});

test("a word processor file of the house is filled in, and what it asks for in vain is listed", async ({ page }) => {
  await signIn(page);
  const dir = mkdtempSync(join(tmpdir(), "raconte-"));
  const title = `Weigh ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "Scan the card", picture: grey(151) }]);
  await page.goto("/setup/styles");
  await page.getByRole("button", { name: "Download one to begin with" }).click();
  const [example] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("menuitem", { name: "for the word processor (.docx)" }).click(),
  ]);
  await example.saveAs(join(dir, "example.docx"));
  expect(execFileSync("unzip", ["-p", join(dir, "example.docx"), "word/document.xml"], { encoding: "utf8" })).toContain(
    "{step words}",
  );
  // A file that a word processor has written, with placeholders as a person types them.
  const name = `Letter ${Date.now()}`;
  const mine = join(dir, `${name}.docx`);
  writeFileSync(
    join(dir, `${name}.html`),
    "<h1>From our house: {ti<b>tle}</b></h1><p>{knid}</p><table><tr><td>{step number}</td><td>{step words}</td></tr></table>",
  );
  execFileSync("soffice", [
    `-env:UserInstallation=file://${dir}/profile`,
    ...["--headless", "--convert-to", "docx:MS Word 2007 XML", "--outdir", dir, join(dir, `${name}.html`)],
  ]);
  const section = page.getByRole("region", { name: "Templates" });
  await section.getByLabel("Add a file").setInputFiles(mine);
  await expect(section.getByRole("status").first()).toContainText("{knid} stands for nothing. It is left as it is.");
  await section
    .getByLabel("Add a file")
    .setInputFiles({ name: "bad.docx", mimeType: "x/y", buffer: Buffer.from("hello") });
  await expect(page.getByRole("region", { name: /^Notices/ })).toContainText("The file is damaged");
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Other formats" }).click();
  await page.getByRole("radio", { name: "Word processor (DOCX)" }).check();
  await choose(page, "Template", name);
  await page.getByRole("button", { name: "Make it" }).click();
  const link = page.getByRole("link", { name: /^Download/ });
  const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
  const made = join(dir, "made.docx");
  await download.saveAs(made);
  execFileSync("soffice", [
    `-env:UserInstallation=file://${dir}/profile`,
    ...["--headless", "--convert-to", "txt:Text", "--outdir", dir, made],
  ]);
  const said = readFileSync(join(dir, "made.txt"), "utf8");
  expect(said).toContain(`From our house: ${title}`);
  expect(said).toMatch(/1\s+Scan the card/);
});
