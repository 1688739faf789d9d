// Measures the running application as a person meets it; skipped where it is not running. It makes documents
// named "Bench …" and deletes them.
import { randomUUID } from "node:crypto";
import { readFileSync } from "node:fs";
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";

const base = process.env.RACONTE_URL ?? `http://127.0.0.1:${process.env.RACONTE_PORT ?? 8420}`;
const say = (what, value) => console.log(what.padEnd(58), value);
if (!(await fetch(`${base}/api/health`).then((r) => r.ok, () => false))) {
  say("the running application", "skipped: run make start first");
  process.exit(0);
}
const shot = (n) => readFileSync(`bench/out/shot${n}.png`);
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const made = [];
try {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.request.post(`${base}/api/session`, { data: { name: "ines", password: "pellworth" } });
  const create = async (title) => {
    const d = await (await page.request.post(`${base}/api/documents`, { data: { title } })).json();
    made.push(d.id);
    return d.id;
  };
  const open = async (id) => {
    await page.goto(`${base}/d/${id}/write`);
    await page.getByLabel("Title", { exact: true }).waitFor();
  };

  await open(await create("Bench paste"));
  const paste = await page.evaluate(async (bytes) => {
    const all = [];
    for (let n = 0; n < 5; n++) {
      const data = new DataTransfer();
      data.items.add(new File([new Uint8Array(bytes)], "shot.png", { type: "image/png" }));
      const began = performance.now();
      let ready;
      const seen = new Promise((resolve) => {
        const look = () => {
          const image = document.querySelectorAll("[data-step] image").length > n;
          if (image) requestAnimationFrame(() => resolve(performance.now() - began));
          else requestAnimationFrame(look);
        };
        look();
      });
      document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
      const visible = await seen;
      while (document.querySelector("[role=progressbar]")) await new Promise((r) => setTimeout(r, 5));
      ready = performance.now() - began;
      all.push([visible, ready]);
      await new Promise((r) => setTimeout(r, 600));
    }
    return all.sort((a, b) => a[0] - b[0])[2];
  }, [...shot(0)]);
  say("paste of a shot: on the page, and kept by the server", `${paste[0].toFixed(0)} ms (wanted: 150), ${paste[1].toFixed(0)} ms (wanted: 500)`);

  await open(await create("Bench drop"));
  const files = Array.from({ length: 60 }, (_, n) => shot(n).toString("base64"));
  await page.evaluate(async (all) => {
    globalThis.files = await Promise.all(
      all.map(async (data, n) => {
        const bytes = await (await fetch(`data:image/png;base64,${data}`).catch(() => undefined))?.blob();
        const raw = bytes ?? new Blob([Uint8Array.from(atob(data), (c) => c.charCodeAt(0))]);
        return new File([raw], `step ${n}.png`, { type: "image/png" });
      }),
    );
  }, files);
  await page.waitForTimeout(1000);
  const began = Date.now();
  await page.evaluate(() => {
    globalThis.longest = 0;
    let last = performance.now();
    const tick = () => {
      const now = performance.now();
      globalThis.longest = Math.max(globalThis.longest, now - last);
      last = now;
      setTimeout(tick, 0);
    };
    tick();
    const data = new DataTransfer();
    globalThis.files.forEach((f) => data.items.add(f));
    document.body.dispatchEvent(new DragEvent("drop", { dataTransfer: data, clientX: 500, clientY: 600, bubbles: true, cancelable: true }));
  });
  await page.getByText(/^Saved \d/).waitFor({ timeout: 120_000 });
  await page.waitForFunction(() => document.querySelectorAll("[data-step]").length === 60);
  const longest = await page.evaluate(() => globalThis.longest);
  say("60 shots dropped, kept and saved", `${((Date.now() - began) / 1000).toFixed(1)} s (wanted: 20), page never still for more than ${longest.toFixed(0)} ms`);

  const id = await create("Bench open");
  const kept = randomUUID();
  await page.request.put(`${base}/api/shots/${kept}`, { data: shot(1), headers: { "Content-Type": "application/octet-stream" } });
  const steps = Array.from({ length: 100 }, (_, n) => ({
    id: randomUUID(),
    base: 0,
    order: `00A${String(n).padStart(3, "0")}`,
    removed: false,
    content: {
      words: { type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text: `Step ${n}: scan the bin card.` }] }] },
      figures: [{ id: randomUUID(), shot: kept, alt: "x", marks: [{ id: "m", kind: "box", points: [{ x: 100, y: 100 }, { x: 300, y: 200 }], ink: "red", weight: "medium" }] }],
    },
  }));
  await page.request.post(`${base}/api/documents/${id}/changes`, { data: { id: randomUUID(), steps } });
  await page.goto(base);
  await page.waitForFunction(() => "raconteCore" in globalThis); // as after a moment in the library
  const opened = [];
  for (let n = 0; n < 3; n++) {
    const from = Date.now();
    await page.getByRole("link", { name: "Bench open" }).click();
    await page.waitForFunction(() => document.querySelectorAll("[data-step]").length === 100 && document.querySelector("[data-step] image"));
    opened.push(Date.now() - from);
    await page.getByRole("link", { name: "Library", exact: true }).click();
    await page.getByRole("link", { name: "Bench open" }).waitFor();
  }
  say("a procedure of 100 steps opened from the library, usable", `${opened.sort((a, b) => a - b)[1]} ms (wanted: 1000)`);
  for (const d of made) await page.request.delete(`${base}/api/documents/${d}`);
} finally {
  await browser.close();
}
