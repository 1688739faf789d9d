// Measures what the browser's recorder costs the page: how long an act is held back, and how much of that is work of its
// own, on a page of 500 things with frames of secrets. The application runs.
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";
import { say } from "./say.mjs";

const base = `http://127.0.0.1:${process.env.RACONTE_PORT}`;
const hold = 130; // milliseconds, as recorder/src/page.ts has it
const things = Array.from({ length: 500 }, (_, i) => `<label>Field ${i} <input></label><button>Key ${i}</button>`).join(" ");
const server = createServer((_, a) => a.setHeader("Content-Type", "text/html").end(
  `<!doctype html><title>Many</title>${things}<script>held = [];
   addEventListener("pointerdown", (e) => held.push(performance.now() - e.timeStamp));</script>`,
)).listen(0, "127.0.0.1");
await new Promise((r) => server.once("listening", r));
const address = `http://127.0.0.1:${server.address().port}`;
const folder = mkdtempSync(join(tmpdir(), "raconte-recorder-"));
const recorder = join(folder, "recorder");
cpSync("recorder/dist", recorder, { recursive: true });
const manifest = JSON.parse(readFileSync(join(recorder, "manifest.json"), "utf8"));
manifest.host_permissions = manifest.optional_host_permissions;
delete manifest.optional_host_permissions;
writeFileSync(join(recorder, "manifest.json"), JSON.stringify(manifest));
const context = await chromium.launchPersistentContext(join(folder, "profile"), {
  executablePath: "/usr/bin/chromium",
  headless: false,
  viewport: { width: 1280, height: 800 },
  args: ["--headless=new", "--no-sandbox", "--disable-gpu", `--disable-extensions-except=${recorder}`, `--load-extension=${recorder}`],
});
try {
  const worker = context.serviceWorkers()[0] ?? (await context.waitForEvent("serviceworker"));
  const panel = await context.newPage();
  await panel.goto(`chrome-extension://${new URL(worker.url()).host}/panel.html`);
  const page = await context.newPage();
  await page.request.post(`${base}/api/session`, { data: { name: "ines", password: "pellworth" } });
  const { token } = await (await page.request.post(`${base}/api/devices`, { data: { name: "Bench" } })).json();
  await page.goto(address);
  const tell = (message) => panel.evaluate((m) => chrome.runtime.sendMessage(m), message);
  const clicks = async () => {
    await page.bringToFront();
    await page.evaluate(() => (held.length = 0));
    for (let i = 0; i < 30; i++) {
      await page.getByRole("button", { name: `Key ${i}`, exact: true }).click();
      await page.waitForTimeout(300);
    }
    return (await page.evaluate(() => held)).sort((a, b) => a - b);
  };
  const without = await clicks();
  await tell({ connect: { address: base, token, name: "Bench" } });
  await tell({ do: "start", any: true });
  const held = await clicks();
  await tell({ do: "stop" });
  const own = held.map((h) => h - hold - without[15]);
  say("an act recorded in a page of 1,000 things, held", `${held[15].toFixed(0)} ms, at most ${held[29].toFixed(0)} (wanted: 150 at most)`);
  say("of that the recorder's own work", `${own[15].toFixed(1)} ms, 95 % within ${own[28].toFixed(1)} (wanted: 10)`);
} finally {
  await context.close();
  server.close();
  rmSync(folder, { recursive: true, force: true });
}
