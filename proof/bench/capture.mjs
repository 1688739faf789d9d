// Measures capture in the running application: a thousand shots in a row, the memory they take, what is shared through
// the browser, and a long list.
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";
import { tasks, told } from "./tasks.mjs";
import { say } from "./say.mjs";

const base = `http://127.0.0.1:${process.env.RACONTE_PORT}`;
const many = Number(process.env.BENCH_SHOTS ?? 1000);
const title = "Bench shared";
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--enable-precise-memory-info", `--auto-select-tab-capture-source-by-title=${title}`],
});
const median = (all) => [...all].sort((a, b) => a - b)[all.length >> 1];
try {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.request.post(`${base}/api/session`, { data: { name: "ines", password: "pellworth" } });
  await page.goto(base);
  const begin = async (settings) => {
    await page.evaluate((s) => {
      localStorage.setItem("raconte-capture", JSON.stringify(s));
      Object.keys(localStorage).filter((k) => k.startsWith("raconte-session")).forEach((k) => localStorage.removeItem(k));
    }, settings);
    await page.goto(`${base}/capture`);
    await page.getByRole("button", { name: "Share a screen" }).waitFor();
    // From the key to one shot more in the list. A tab beside the one that is shared draws its pages rarely, headless, so
    // it is not waited for that.
    await page.evaluate(() => {
      globalThis.times = [];
      const count = () => Number(/^\d+/.exec(document.querySelector("section[aria-label=Session] [role=status]")?.textContent ?? "0")?.[0] ?? 0);
      globalThis.takeOne = (key) =>
        new Promise((resolve) => {
          const [before, began] = [count(), performance.now()];
          const seen = new MutationObserver(() => {
            if (count() <= before) return;
            seen.disconnect();
            globalThis.times.push(performance.now() - began);
            resolve();
          });
          seen.observe(document.querySelector("section[aria-label=Session]"), { subtree: true, childList: true, characterData: true });
          document.body.dispatchEvent(new KeyboardEvent("keydown", { code: key, bubbles: true }));
        });
    });
  };
  const session = () => page.evaluate(() => JSON.parse(localStorage.getItem(Object.keys(localStorage).find((k) => k.startsWith("raconte-session ")))).id);
  const memory = async () => {
    const cdp = await context.newCDPSession(page);
    await cdp.send("HeapProfiler.collectGarbage");
    const { metrics } = await cdp.send("Performance.enable").then(() => cdp.send("Performance.getMetrics"));
    await cdp.detach();
    const of = (name) => metrics.find((m) => m.name === name)?.value ?? 0;
    return { heap: of("JSHeapUsedSize") / 1e6, nodes: of("Nodes") };
  };

  await begin({ what: "monitor", pattern: "{n}" });
  await page.getByRole("button", { name: "Start the workstation" }).click();
  await page.getByRole("application").waitFor();
  await page.waitForTimeout(1500);
  const box = await page.getByRole("application").boundingBox();
  await page.mouse.click(box.x + (900 / 1920) * box.width, box.y + (490 / 1080) * box.height); // the field “E-mail”
  await page.evaluate(() => globalThis.takeOne("KeyT"));
  let early;
  const takeAnother = async (n) => {
    // Every shot differs a little from the one before.
    await page.keyboard.press(n % 2 ? "1" : "Backspace");
    await page.evaluate(() => globalThis.takeOne("KeyT"));
  };
  for (let n = 1; n <= many; n++) {
    await takeAnother(n);
    if (n === Math.min(100, many)) early = await memory();
  }
  const times = await page.evaluate(() => globalThis.times);
  const late = await memory();
  const [first, last] = [median(times.slice(5, 25)), median(times.slice(-20))];
  say(`shots 6 to 25 of a session of 1920×1080, from key to list`, `${first.toFixed(0)} ms`);
  say(`shots ${many - 19} to ${many}`, `${last.toFixed(0)} ms, ${(last / first).toFixed(2)} times (wanted: 1.10)`);
  say(`memory of the page after 100 and ${many} shots`, `${early.heap.toFixed(1)} and ${late.heap.toFixed(1)} MB, ${early.nodes} and ${late.nodes} nodes`);
  const work = await tasks(browser, page, async () => {
    for (let n = 1; n <= 100; n++) await takeAnother(n);
  });
  say("  the page stood still in another 100", told(work));
  const went = Date.now();
  const id = await session();
  const kept = async () => (await (await page.request.get(`${base}/api/captures/${id}`)).json()).shots?.length ?? 0;
  while ((await kept()) <= many + 100) await page.waitForTimeout(500);
  say("  all of them on the server after another", `${((Date.now() - went) / 1000).toFixed(1)} s`);
  const from = Date.now();
  await page.request.post(`${base}/api/captures/${id}/compared`, { timeout: 120_000 });
  say("scan a session again for repeats, as 500 shots", `${(((Date.now() - from) / 1000 / (many + 101)) * 500).toFixed(1)} s (wanted: 20)`);
  const shots = (await (await page.request.get(`${base}/api/captures/${id}`)).json()).shots.map((s) => s.id);
  await page.request.put(`${base}/api/shots/discarded`, { data: { shots, discarded: true } });

  const other = await context.newPage();
  await other.setViewportSize({ width: 1920, height: 1080 });
  await other.setContent(`<title>${title}</title><h1>Shared</h1><p>${"Something to read. ".repeat(400)}</p>`);
  await page.bringToFront();
  await begin({ what: "everything", pattern: "{n}" });
  const sharing = page.getByRole("button", { name: "Stop sharing" });
  await page.getByRole("button", { name: "Share a screen" }).click();
  // The browser does not always find the tab by its title at once.
  if (!(await sharing.waitFor({ timeout: 10_000 }).then(() => true, () => false))) {
    await page.reload();
    await page.getByRole("button", { name: "Share a screen" }).click();
    await sharing.waitFor();
  }
  await page.waitForTimeout(1500);
  const size = await page.evaluate(() => [document.querySelector("video").videoWidth, document.querySelector("video").videoHeight]);
  const some = async () => {
    for (let n = 0; n < 21; n++) {
      await page.evaluate(() => globalThis.takeOne("KeyT"));
      await page.waitForTimeout(300);
    }
  };
  await some();
  const shared = await page.evaluate(() => globalThis.times);
  const encode = await page.evaluate(async () => {
    const v = document.querySelector("video");
    const c = new OffscreenCanvas(v.videoWidth, v.videoHeight);
    c.getContext("2d").drawImage(v, 0, 0);
    const all = [];
    for (let i = 0; i < 5; i++) {
      const began = performance.now();
      await c.convertToBlob({ type: "image/png" });
      all.push(performance.now() - began);
    }
    return all.sort((a, b) => a - b)[2];
  });
  say(`take from a shared tab of ${size.join("×")}, from key to list`, `median ${median(shared).toFixed(0)} ms, worst ${Math.max(...shared).toFixed(0)} ms, of which encoding ${encode.toFixed(0)} ms (wanted: 150 and encoding)`);
  say("  the page stood still in another 21", told(await tasks(browser, page, some)));
  const more = (await (await page.request.get(`${base}/api/captures/${await session()}`)).json()).shots?.map((s) => s.id) ?? [];
  await page.request.put(`${base}/api/shots/discarded`, { data: { shots: more, discarded: true } });
} finally {
  await browser.close();
}
