import { expect, type Page, test } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { choose, accessible, grey, makeDocument, notices, png, signIn } from "./support";

const text = (s: string, ...marks: object[]) => ({ type: "text", text: s, ...(marks.length && { marks }) });

async function makePDF(page: Page): Promise<string> {
  await page.getByRole("button", { name: "Make the PDF" }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: /^Download/ }).click(),
  ]);
  const path = join(mkdtempSync(join(tmpdir(), "raconte-")), "out.pdf");
  await download.saveAs(path);
  return path;
}

/** The words of each page of a PDF and where they are, in points. */
function placedWords(pdf: string) {
  const entities: Record<string, string> = { "&amp;": "&", "&lt;": "<", "&gt;": ">", "&quot;": '"' };
  return run("pdftotext", "-bbox", pdf, "-")
    .split("<page ")
    .slice(1)
    .map((page) =>
      [...page.matchAll(/<word xMin="(.*?)" yMin="(.*?)" xMax="(.*?)" yMax="(.*?)">(.*?)<\/word>/g)].map((m) => {
        const [x0, y0, x1, y1] = m.slice(1, 5).map(Number) as [number, number, number, number];
        return { x0, y0, x1, y1, text: (m[5] ?? "").replace(/&\w+;/g, (e) => entities[e] ?? e) };
      }),
    );
}

const run = (name: string, ...args: string[]) => execFileSync(name, args, { encoding: "utf8" });

test("the preview and the PDF agree word by word; text, fonts, links, bookmarks, stamp and code are right", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Print: Ελλάδα", [
    {
      content: [
        text("Open "),
        text("Rooms", { type: "control" }),
        text(" and look for "),
        text("help", { type: "link", attrs: { href: "https://pellworth.example/help" } }),
        text("."),
      ],
      picture: grey(200),
    },
    { content: [text("Καλημέρα, доброе утро, "), text("温度警報"), text(", Wärme ŐŠ.")], picture: grey(120) },
    { picture: grey(100) },
    { words: "A long one. ".repeat(40), picture: grey(90, 300, 900) },
    { words: "Last" },
  ]);
  await page.goto(`/d/${id}/pages`);
  await expect(page.getByRole("group", { name: "Page 2" })).toBeVisible();
  await expect(page.getByText("DRAFT: not ready for use").first()).toBeVisible();
  await accessible(page);
  const preview = await page.locator("svg[aria-label^='Page']").evaluateAll((sheets) =>
    sheets.flatMap((sheet, number) =>
      [...sheet.querySelectorAll("text")].map((t) => ({
        number,
        text: t.textContent?.trim().split(/\s+/)[0] ?? "",
        x: Number(t.getAttribute("x")),
        y: Number(t.getAttribute("y")),
      })),
    ),
  );
  const pdf = await makePDF(page);
  const printed = run("pdftotext", "-raw", pdf, "-");
  const sheets = placedWords(pdf);
  expect(preview.length).toBeGreaterThan(150);
  const astray = preview.filter(
    (p) =>
      p.text &&
      !sheets[p.number]?.some(
        (w) => w.text.includes(p.text) && p.x > w.x0 - 1 && p.x < w.x1 && p.y > w.y0 && p.y < w.y1,
      ),
  );
  expect(astray).toEqual([]); // every word of the preview is in the PDF at the same place
  for (const sample of ["Καλημέρα", "доброе", "温度警報", "Wärme", "DRAFT: not ready for use", "Page 1 of 2"])
    expect(printed).toContain(sample);
  expect(
    run("pdffonts", pdf)
      .split("\n")
      .slice(2)
      .filter(Boolean)
      .every((l) => / yes +(yes|no) +yes /.test(l)),
  ).toBe(true);
  expect(statSync(pdf).size).toBeLessThan(400_000); // a subset: the Chinese face alone is 5 MB
  const folder = mkdtempSync(join(tmpdir(), "raconte-"));
  run("pdftohtml", "-xml", "-i", pdf, join(folder, "out"));
  const xml = readFileSync(join(folder, "out.xml"), "utf8");
  expect(xml).toContain("https://pellworth.example/help");
  expect(xml).toMatch(/<item page="1">1 {2}Open Rooms and look for help<\/item>/);
  run("pdftoppm", "-r", "150", "-png", "-f", "1", "-l", "1", pdf, join(folder, "page"));
  expect(run("zbarimg", "-q", "--raw", join(folder, "page-1.png")).trim()).toMatch(new RegExp(`/d/${id}$`));
});

test("two steps to a page take more pages; a step too tall for a page is scaled and says so", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Tall", [
    { words: "Word ".repeat(2500) },
    { words: "b", picture: grey(9) },
    { words: "c", picture: grey(8) },
    { words: "d", picture: grey(7) },
  ]);
  await page.goto(`/d/${id}/pages`);
  await expect(page.getByText(/Step 1: Words set at \d+ % so that this step stays on one page/)).toBeVisible();
  const four = await page.locator("svg[aria-label^='Page']").count();
  await choose(page, "Layout", "Two steps to a page");
  await expect.poll(() => page.locator("svg[aria-label^='Page']").count()).toBeGreaterThan(four);
});

test("a delivery can be cancelled and tried again, and is nobody else's to cancel", async ({ page, browser }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Mine", [{ words: "x", picture: grey(3) }]);
  const made = await (
    await page.request.post(`/api/documents/${id}/deliveries`, { data: { format: "pdf", layout: "running" } })
  ).json();
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "tomasz");
  expect((await other.request.delete(`/api/deliveries/${made.id}`)).status()).toBe(404);
  expect((await page.request.delete(`/api/deliveries/${made.id}`)).status()).toBe(204);
  await page.goto("/deliveries");
  const row = page.getByRole("listitem").filter({ hasText: "Mine" }).first();
  await accessible(page);
  const again = row.getByRole("button", { name: "Try again" });
  if (await again.isVisible()) await again.click(); // it may have been done before it was cancelled
  await expect(row.getByRole("link", { name: /^Download/ })).toBeVisible();
  await other.context().close();
});

test("following: all steps, one at a time by keys and by swipe, on a phone", async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 780 }, hasTouch: true });
  const page = await context.newPage();
  await signIn(page, "ruben");
  await page.getByRole("link", { name: "Move a lot between rooms", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Move a lot between rooms" })).toBeVisible();
  await expect(page.getByRole("button", { name: /^Open the picture large/ })).toHaveCount(6);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await accessible(page);
  await page.getByRole("button", { name: "Follow one step at a time" }).click();
  await expect(page.getByRole("heading", { name: "Step 1 of 6" })).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("heading", { name: "Step 2 of 6" })).toBeVisible();
  const touch = await context.newCDPSession(page);
  const point = (x: number) => [{ x, y: 400 }];
  await touch.send("Input.dispatchTouchEvent", { type: "touchStart", touchPoints: point(320) });
  await touch.send("Input.dispatchTouchEvent", { type: "touchMove", touchPoints: point(120) });
  await touch.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
  await expect(page.getByRole("heading", { name: "Step 3 of 6" })).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Back" }).click();
  await expect(page.getByRole("heading", { name: "Step 2 of 6" })).toBeVisible();
  await context.close();
});

test("a bundle comes back whole; a damaged one is refused and leaves nothing", async ({ page }) => {
  await signIn(page);
  const title = `Bundle ${Date.now()}`;
  const mark = {
    id: "a",
    kind: "text",
    points: [
      { x: 9, y: 9 },
      { x: 200, y: 9 },
    ],
    ink: "blue",
    weight: "fine",
    text: "<b>",
  };
  const { id } = await makeDocument(page.request, title, [
    { words: "One", picture: grey(77), marks: [mark] },
    { words: "Two" },
  ]);
  await page.reload();
  await page.getByRole("button", { name: `Actions for ${title}` }).click();
  await page.getByRole("menuitem", { name: "Export bundle" }).click();
  await page.waitForURL("**/deliveries");
  const row = page.getByRole("listitem").filter({ hasText: title });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    row.getByRole("link", { name: /^Download/ }).click(),
  ]);
  await page.goto("/");
  const path = join(mkdtempSync(join(tmpdir(), "raconte-")), "out.bundle");
  await download.saveAs(path);
  const input = page.getByLabel("Bring in files", { exact: true }).last();
  await input.setInputFiles(path);
  await page.getByRole("button", { name: "Open", exact: true }).click();
  await page.waitForURL(/\/d\/[^/]+\/write$/);
  await expect(page.getByText("One").last()).toBeVisible();
  const again = page.url().split("/")[4] ?? "";
  expect(again).not.toBe(id);
  const strip = (s: unknown) =>
    JSON.stringify(s)
      .replace(/"shot":"[^"]*"/g, "")
      .replace(/"changedBy":"[^"]*"/g, "")
      .replace(/"order":"[^"]*"/g, "");
  const [one, two] = await Promise.all(
    [id, again].map(async (d) => (await (await page.request.get(`/api/documents/${d}`)).json()).blocks),
  );
  expect(strip(two)).toBe(strip(one));

  const broken = readFileSync(path);
  const at = broken.indexOf("IDAT") + 8; // in the shot's pixels
  broken[at] = (broken[at] ?? 0) ^ 0xff;
  writeFileSync(path, broken);
  await page.goto("/");
  const count = async () =>
    (await (await page.request.get(`/api/documents?title=${encodeURIComponent(title)}`)).json()).length;
  const before = await count();
  expect(before).toBe(2);
  await page.getByLabel("Bring in files", { exact: true }).last().setInputFiles(path);
  await expect(notices(page).getByText(/damaged.*Nothing was imported\./)).toBeVisible();
  expect(await count()).toBe(before);
});

test("a file that is being made is cancelled on its page, and made after all", async ({ page }) => {
  test.slow();
  await signIn(page);
  // Thirty pictures of noise, each marked elsewhere: none is like another, and nothing in them repeats.
  let seed = Date.now() & 0x7fffffff; // and none was made before
  const noise = png(1200, 800, () => {
    seed = (seed * 1103515245 + 12345) & 0x7fffffff;
    return [seed & 255, (seed >> 8) & 255, (seed >> 16) & 255];
  });
  const { id } = await makeDocument(
    page.request,
    "Cancelled",
    Array.from({ length: 30 }, (_, n) => ({
      words: `Step ${n}`,
      picture: noise,
      marks: [
        {
          id: "a",
          kind: "box",
          points: [
            { x: n, y: n },
            { x: 300 + n, y: 200 },
          ],
          ink: "blue",
          weight: "fine",
        },
      ],
    })),
  );
  await page.goto(`/d/${id}/pages`);
  await page.getByRole("button", { name: "Make the PDF" }).click();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByRole("button", { name: "Try again" })).toBeVisible();
  await expect(page.getByRole("link", { name: /^Download/ })).toHaveCount(0);
  const [made] = (await (await page.request.get(`/api/documents/${id}/deliveries`)).json()) as { state: string }[];
  expect(made?.state).toBe("cancelled");
  await page.reload();
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByRole("link", { name: /^Download/ })).toBeVisible();
});
