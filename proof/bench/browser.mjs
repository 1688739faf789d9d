// Measures the core in a real browser: what one mark of a hundred costs while it is dragged.
import { readFileSync } from "node:fs";
import { createServer } from "node:http";
import { chromium } from "../e2e/node_modules/@playwright/test/index.mjs";
import { say } from "./say.mjs";

const types = { "/": "text/html", "/core.wasm": "application/wasm", "/wasm_exec.js": "text/javascript" };
const server = createServer((q, a) => {
  a.setHeader("Content-Type", types[q.url] ?? "text/plain");
  if (!(q.url in types)) return a.writeHead(404).end();
  a.end(q.url === "/" ? "<!doctype html><script src=/wasm_exec.js></script>" : readFileSync(`web/public${q.url}`));
}).listen(0, "127.0.0.1");
await new Promise((r) => server.once("listening", r));
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
try {
  const page = await browser.newPage();
  await page.goto(`http://127.0.0.1:${server.address().port}/`);
  const times = await page.evaluate(async () => {
    const go = new Go();
    const ready = new Promise((r) => (globalThis.raconteReady = r));
    const { instance } = await WebAssembly.instantiateStreaming(fetch("/core.wasm"), go.importObject);
    void go.run(instance);
    await ready;
    const call = (name, args) => JSON.parse(raconteCore(name, JSON.stringify(args))).ok;
    const marks = Array.from({ length: 100 }, (_, i) => {
      const [x, y] = [(i % 10) * 380 + 20, Math.floor(i / 10) * 210 + 20];
      const kind = ["box", "arrow", "marker", "text"][i % 4];
      const points = kind === "marker" ? [{ x, y }] : [{ x, y }, { x: x + 200, y: y + 100 }];
      return { id: `m${i}`, kind, points, ink: "red", weight: "medium", text: "Wait for it", turn: i };
    });
    call("open", { figure: { id: "f", shot: "s", alt: "", marks }, shot: { w: 3840, h: 2160 }, first: 1 });
    const all = [];
    for (const [i, from] of [[0, { x: 20, y: 70 }], [1, { x: 500, y: 70 }]]) {
      call("select", { id: `m${i}` });
      call("down", { at: from, scale: 0.27, shift: false });
      for (let n = 0; n < 300; n++) {
        const began = performance.now();
        call("move", { at: { x: from.x + n * 3, y: from.y + n }, scale: 0.27, shift: false });
        all.push(performance.now() - began);
      }
      call("up", { at: from, scale: 0.27, shift: false });
    }
    return all.sort((a, b) => a - b);
  });
  say("core in the browser, one of 100 marks dragged on a 4K shot", `${times[300].toFixed(2)} ms, 95 % within ${times[570].toFixed(2)} ms (wanted: 3)`);
} finally {
  await browser.close();
  server.close();
}
