// Measures what a recording costs the page, in the running application.
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";
import { say } from "./say.mjs";

const base = `http://127.0.0.1:${process.env.RACONTE_PORT}`;
const seconds = Number(process.env.BENCH_SECONDS ?? 60);
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--enable-precise-memory-info"],
});
try {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.request.post(`${base}/api/session`, { data: { name: "ines", password: "pellworth" } });
  await page.goto(`${base}/capture`);
  await page.evaluate(() => localStorage.setItem("raconte-capture", JSON.stringify({ what: "monitor" })));
  await page.goto(`${base}/capture`);
  await page.getByRole("button", { name: "Start the workstation" }).click();
  const live = page.getByRole("application");
  await live.waitFor();
  const cdp = await context.newCDPSession(page);
  await cdp.send("Performance.enable");
  const state = async () => {
    await cdp.send("HeapProfiler.collectGarbage");
    const { metrics } = await cdp.send("Performance.getMetrics");
    const of = (name) => metrics.find((m) => m.name === name)?.value ?? 0;
    return { heap: of("JSHeapUsedSize") / 1e6, busy: of("TaskDuration") };
  };
  await page.getByRole("button", { name: /^Record/ }).click();
  await page.getByText("0:03").waitFor({ timeout: 60_000 });
  const before = await state();
  const began = performance.now();
  const box = await live.boundingBox();
  for (let i = 0; performance.now() - began < seconds * 1000; i++) {
    await page.mouse.move(box.x + 100 + ((i * 13) % 600), box.y + 100 + ((i * 7) % 300));
    await page.waitForTimeout(200);
  }
  const after = await state();
  await page.getByRole("button", { name: /^End/ }).click();
  say(
    `recording a monitor of 1920×1080 for ${seconds} s`,
    `the page is busy ${Math.round((100 * (after.busy - before.busy)) / seconds)} % of the time; its memory ${before.heap.toFixed(1)} MB at first, ${after.heap.toFixed(1)} at the end`,
  );
} finally {
  await browser.close();
}
