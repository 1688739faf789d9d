// Fifty people in one document: how long a change takes to reach all, and what typing feels like meanwhile.
import { randomUUID } from "node:crypto";
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";
import { say } from "./say.mjs";

const base = `http://127.0.0.1:${process.env.RACONTE_PORT}`;
const people = 50;
const json = { "Content-Type": "application/json" };
const at = (all, share) => all.sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(all.length * share))].toFixed(0);

/** Someone who has the document open: told of each change, they ask for what is new. */
async function someone(name, id) {
  const signed = await fetch(`${base}/api/session`, { method: "POST", headers: json, body: JSON.stringify({ name, password: "pellworth" }) });
  const cookie = signed.headers.getSetCookie().map((c) => c.split(";")[0]).join("; ");
  const stop = new AbortController();
  const heard = new Map(); // by what is new: when it was here
  const stream = await fetch(`${base}/api/events`, { headers: { cookie }, signal: stop.signal });
  let since = 0;
  const listen = async () => {
    const decoder = new TextDecoder();
    for await (const part of stream.body) {
      if (!decoder.decode(part, { stream: true }).includes(id)) continue;
      const answer = await fetch(`${base}/api/documents/${id}/changes?since=${since}`, { headers: { cookie } });
      const { seq, blocks } = await answer.json();
      since = seq;
      for (const b of blocks) {
        const text = JSON.stringify(b.content.words);
        for (const [, mark] of text.matchAll(/mark-(\d+)/g)) if (!heard.has(mark)) heard.set(mark, performance.now());
      }
    }
  };
  const done = listen().catch(() => undefined);
  const page = randomUUID();
  const present = () =>
    fetch(`${base}/api/documents/${id}/presence`, { method: "PUT", headers: { ...json, cookie }, body: JSON.stringify({ page, at: "" }) }).then((r) => r.text());
  await present();
  const timer = setInterval(() => void present().catch(() => undefined), 10_000);
  return { heard, leave: () => (clearInterval(timer), stop.abort(), done) };
}

const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
let id;
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
const here = [];
try {
  await page.request.post(`${base}/api/session`, { data: { name: "ines", password: "pellworth" } });
  ({ id } = await (await page.request.post(`${base}/api/documents`, { data: { title: "Bench together" } })).json());
  const paragraph = (text) => ({ type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
  const block = (n) => ({ id: `b${n}`, base: 0, order: `00${1000 + n}`, removed: false, content: { type: "step", words: paragraph(`Step ${n}`), figures: [] } });
  await page.request.post(`${base}/api/documents/${id}/changes`, { data: { id: randomUUID(), blocks: Array.from({ length: 60 }, (_, n) => block(n)) } });
  await page.goto(`${base}/d/${id}/write`);
  await page.getByLabel("Title", { exact: true }).waitFor();
  const words = page.locator('[data-block="b0"] [data-words]');
  await words.click();
  await page.locator(".ProseMirror-focused").waitFor();

  /** How long keys take to their letter on the screen, typed at a person's pace. */
  const typing = async (count) => {
    await page.evaluate(() => {
      globalThis.keys = [];
      addEventListener("keydown", () => {
        const began = performance.now();
        requestAnimationFrame(() => setTimeout(() => globalThis.keys.push(performance.now() - began)));
      }, { capture: true, signal: (globalThis.listening = new AbortController()).signal });
    });
    for (let n = 0; n < count; n++) {
      await page.keyboard.press("abcdefgh"[n % 8]);
      await page.waitForTimeout(60);
    }
    return page.evaluate(() => (globalThis.listening.abort(), globalThis.keys));
  };
  const alone = await typing(60);
  for (let n = 0; n < people - 1; n++) here.push(await someone(n % 2 ? "ines" : "tomasz", id));
  await page.waitForTimeout(1500);
  const together = await typing(60);
  const reach = [];
  for (let n = 0; n < 10; n++) {
    const mark = `mark-${1000 + n}`;
    await page.keyboard.type(` ${mark}`);
    const typed = performance.now();
    while (here.some((h) => !h.heard.has(String(1000 + n))) && performance.now() - typed < 10_000) await page.waitForTimeout(20);
    for (const h of here) reach.push((h.heard.get(String(1000 + n)) ?? Infinity) - typed);
    await page.waitForTimeout(300);
  }
  say(`a change typed, until ${people - 1} others have it`, `${at(reach, 0.5)} ms, 95 % within ${at(reach, 0.95)}, the last after ${at(reach, 1)} (wanted: 1000)`);
  say("a key typed there alone, and among fifty", `${at(alone, 0.5)} ms, 95 % within ${at(alone, 0.95)}; ${at(together, 0.5)} ms, 95 % within ${at(together, 0.95)}`);
} finally {
  await Promise.all(here.map((h) => h.leave()));
  if (id) await page.request.delete(`${base}/api/documents/${id}`);
  await browser.close();
}
