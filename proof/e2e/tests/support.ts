import AxeBuilder from "@axe-core/playwright";
import {
  type APIRequestContext,
  type Browser,
  type BrowserContext,
  expect,
  type Locator,
  type Page,
} from "@playwright/test";
import { randomUUID } from "node:crypto";
import { crc32, deflateSync } from "node:zlib";

export const password = "pellworth";

/**
 * The browser as people have it, for what needs its windows, devices or extensions; everything else is driven in the
 * same one built without them, which takes a quarter less of the processor.
 */
export const windowed = process.env.CHROMIUM ?? "/usr/bin/chromium";
export const windowless = process.env.CHROMIUM ?? "/usr/bin/chromium-headless-shell";

/** A house for each worker: nobody who is signed in by a test is in another one's way. */
export const houses = (process.env.RACONTE_HOUSES ?? "http://127.0.0.1:8420").split(" ");
export const base = houses[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];

/** Whoever leaves a page with something unsent is asked; a test that leaves it means it. */
export const leaves = (page: Page) =>
  page.on("dialog", (d) => void (d.type() === "beforeunload" ? d.accept() : d.dismiss()).catch(() => undefined));

export async function signIn(page: Page, name = "ines") {
  leaves(page);
  const answer = await page.request.post("/api/session", { data: { name, password } });
  expect(answer.ok()).toBe(true);
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Documents" })).toBeVisible();
}

/** A page of someone's in a browser of their own. */
export async function browserOf(browser: Browser, name: string) {
  const page = await (await browser.newContext()).newPage();
  if (name) await signIn(page, name);
  return page;
}

/** Someone who was invited and has chosen a password: for tests that change an account. */
export async function person(admin: APIRequestContext, role: string) {
  const name = `p${randomUUID().slice(0, 8)}`;
  const data = { name, displayName: `Person ${name}`, role };
  const { account, link } = (await (await admin.post("/api/accounts", { data })).json()) as {
    account: string;
    link: string;
  };
  return { ...data, account, link };
}

export const goodPassword = "quince ladder at noon";

/** No accessibility rule of WCAG 2.2 A and AA is broken on the screen as it is. */
export async function accessible(page: Page) {
  // What is scrolled half below the bar that stays is a smaller target there, and only there.
  const at = await page.evaluate(() => scrollY);
  await page.evaluate(() => scrollTo(0, 0));
  const found = await new AxeBuilder({ page })
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"])
    .exclude("iframe[sandbox]") // in which no script runs, the checker's neither
    .setLegacyMode(true)
    .analyze();
  await page.evaluate((y) => scrollTo(0, y), at);
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(" | ")}`)).toEqual([]);
}

/** A picture whose pixels a function paints. */
export function png(w: number, h: number, paint: (x: number, y: number) => [number, number, number]): Buffer {
  const rows = Buffer.alloc(h * (1 + w * 3));
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) rows.set(paint(x, y), y * (1 + w * 3) + 1 + x * 3);
  }
  const chunk = (kind: string, data: Buffer) => {
    const out = Buffer.alloc(12 + data.length);
    out.writeUInt32BE(data.length);
    out.write(kind, 4, "latin1");
    data.copy(out, 8);
    out.writeUInt32BE(crc(out.subarray(4, 8 + data.length)), 8 + data.length);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(w);
  head.writeUInt32BE(h, 4);
  head.set([8, 2, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from("\x89PNG\r\n\x1a\n", "latin1"),
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

const crc = (data: Buffer) => crc32(data) >>> 0;

/** A picture to tell apart by its grey. */
export const grey = (v: number, w = 800, h = 450) => png(w, h, (x, y) => (x < 40 && y < 40 ? [v, 0, 0] : [v, v, v]));

/** Puts a picture on the clipboard, as another program does. */
export const copy = (page: Page, picture: Buffer) =>
  page.evaluate(
    async (bytes) => {
      const blob = new Blob([new Uint8Array(bytes)], { type: "image/png" });
      await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
    },
    [...picture],
  );

export const file = (name: string, buffer: Buffer, mimeType = "image/png") => ({ name, mimeType, buffer });

type Mark = {
  id: string;
  kind: string;
  points: { x: number; y: number }[];
  ink: string;
  weight: string;
  text?: string;
  turn?: number;
};
export type StepSpec = {
  words?: string;
  content?: unknown[];
  picture?: Buffer;
  marks?: Mark[];
  crop?: object;
  figure?: object;
};

const paragraph = (content: unknown[]) => ({ type: "doc", content: [{ type: "paragraph", content }] });

/** Makes a document through the API, as far as a test does not care how. */
export async function makeDocument(api: APIRequestContext, title: string, steps: StepSpec[], folder = "") {
  const made = (await (await api.post("/api/documents", { data: { title, folder } })).json()) as { id: string };
  const body = { id: randomUUID(), blocks: [] as object[] };
  const figures: string[] = [];
  for (const [i, s] of steps.entries()) {
    const figure = [];
    if (s.picture) {
      const shot = randomUUID();
      const kept = await api.put(`/api/shots/${shot}?name=step.png`, {
        data: s.picture,
        headers: { "Content-Type": "application/octet-stream" },
      });
      expect(kept.ok(), await kept.text()).toBe(true);
      const id = randomUUID();
      figures.push(id);
      figure.push({ id, shot, alt: "", marks: s.marks ?? [], ...(s.crop && { crop: s.crop }), ...s.figure });
    }
    const content = s.content ?? (s.words ? [{ type: "text", text: s.words }] : []);
    body.blocks.push({
      id: randomUUID(),
      base: 0,
      order: `00${String(1000 + i)}`,
      removed: false,
      content: { type: "step", words: paragraph(content), figures: figure },
    });
  }
  const changed = await api.post(`/api/documents/${made.id}/changes`, { data: body });
  expect(changed.ok(), await changed.text()).toBe(true);
  return { id: made.id, figures };
}

export async function openManuscript(page: Page, id: string) {
  await page.goto(`/d/${id}/write`);
  await expect(page.getByLabel("Title", { exact: true })).toBeVisible();
}

/** Everything on the page is on the server. */
export async function saved(page: Page) {
  await expect(page.getByRole("status").filter({ hasText: /^Saved \d\d:\d\d$/ })).toBeVisible();
}

/** Opens a group of the stage's column. */
export async function group(page: Page, name: string) {
  const open = page.getByRole("button", { name, exact: true }).and(page.locator("[aria-expanded]"));
  if ((await open.getAttribute("aria-expanded")) === "false") await open.click();
}

/** What the page tells at its foot. */
// Behind a dialog it is hidden from the tree that roles are found in; what it says is announced all the same.
export const notices = (page: Page) => page.getByRole("region", { name: /^Notices/, includeHidden: true });

export const steps = (page: Page) => page.locator("[data-block]");

/** The words of the steps, in the order of the page. */
export async function order(page: Page) {
  const lines = await page.getByRole("navigation", { name: "Steps" }).getByRole("button").allInnerTexts();
  return lines.map((l) => l.replace(/^\d+\s*/, "").trim());
}

/** The words of a step that is not being written. */
export const words = (page: Page, number: number) =>
  page.getByRole("group", { name: `Words of step ${number}`, exact: true });

export async function write(page: Page, number: number, text: string) {
  await words(page, number).click();
  const box = page.getByRole("textbox", { name: `Words of step ${number}` });
  await box.click();
  await expect(box).toBeFocused();
  await page.keyboard.type(text);
  return box;
}

/**
 * Waits until an editor that has got the keyboard has put its caret in place: it does so by timers of its own after a
 * press, of at most 200 ms, and one of the page that is begun later, and is due later, comes after them.
 */
export const caretSet = (page: Page) => page.evaluate(() => new Promise<void>((done) => setTimeout(done, 250)));

/** What the server has of a document. */
export async function onServer(context: BrowserContext | Page, id: string) {
  const answer = await context.request.get(`/api/documents/${id}`);
  return (await answer.json()) as {
    summary: { title: string; state: string; revision: number };
    blocks: {
      id: string;
      version: number;
      content: {
        words: unknown;
        figures: { id: string; shot: string; crop?: object; alt: string; marks: Mark[]; recolours?: object[] }[];
      };
    }[];
  };
}

/** Drags with the mouse on the open picture; places are shares of its width and height. */
export async function drag(page: Page, from: [number, number], to: [number, number]) {
  const box = await page.getByRole("application").boundingBox();
  if (!box) throw new Error("no picture is open");
  const at = ([x, y]: [number, number]) => [box.x + x * box.width, box.y + y * box.height] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at([(from[0] + to[0]) / 2, (from[1] + to[1]) / 2]));
  await page.mouse.move(...at(to));
  await page.mouse.up();
}

/** Chooses from a list that opens at its button. */
export async function choose(within: Page | Locator, list: string | RegExp, option: string | RegExp) {
  const page = "page" in within ? within.page() : within;
  await within.getByRole("combobox", { name: list, exact: true }).click();
  await page.getByRole("option", { name: option, exact: typeof option === "string" }).click();
}
