// Goes the main path in browsers other than the one the end-to-end tests use, on a server that runs.
// node main.mjs [firefox] [webkit]
import assert from "node:assert/strict";
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { firefox } from "./firefox.mjs";
import { Person } from "./person.mjs";
import { recordsInFirefox } from "./recorder.mjs";
import { webkit } from "./webkit.mjs";

const base = process.env.RACONTE_URL ?? "http://127.0.0.1:8420";
const kinds = { firefox, webkit };
const wanted = process.argv.slice(2).length ? process.argv.slice(2) : Object.keys(kinds);
const folder = mkdtempSync(join(tmpdir(), "raconte-browsers-"));
const screen = spawn("Xvfb", ["-displayfd", "1", "-screen", "0", "1400x1000x24", "-nolisten", "tcp"], {
  stdio: ["ignore", "pipe", "ignore"],
});
try {
  const display = `:${await new Promise((r) => screen.stdout.once("data", (d) => r(String(d).trim())))}`;
  for (const kind of wanted) {
    const browser = await kinds[kind](display);
    const person = new Person(browser, display, folder);
    try {
      await path(kind, person);
      assert.deepEqual(browser.errors, []);
    } catch (e) {
      const seen = join(tmpdir(), `raconte-${kind}.png`);
      await browser.picture(seen).catch(() => undefined);
      console.error(`${kind}: ${e.message}\nThe screen at that moment: ${seen}`);
      process.exitCode = 1;
    } finally {
      person.clip?.kill();
      await browser.close();
    }
  }
  if (wanted.includes("firefox")) {
    await recordsInFirefox(display, base, (what) => console.log(`firefox  ${what}`)).catch((e) => {
      console.error(`firefox: the recorder: ${e.message}`);
      process.exitCode = 1;
    });
  }
} finally {
  screen.kill();
  rmSync(folder, { recursive: true, force: true });
}

/** Sign in, paste, mark, write, pages, PDF, follow, capture. */
async function path(kind, p) {
  const done = (what) => console.log(`${kind.padEnd(8)} ${what}`);
  const fetched = (url, how) => p.browser.run((u, h) => fetch(u, h).then((r) => (r.ok ? r.json() : null)), url, how);
  const title = `Checked in ${kind} ${Date.now()}`;

  await p.browser.goto(base);
  await p.write("Name", "ines");
  await p.write("Password", "pellworth");
  await p.browser.key("Enter");
  await p.sees("Documents");
  done("signed in");

  await p.press("Write a procedure");
  await p.write("Title: what will the reader be able to do?", title);
  await p.browser.key("Enter");
  await p.sees("Saved");
  const id = (await p.browser.run(() => location.pathname)).split("/")[2];
  done("began a procedure");

  await p.browser.run(() => document.activeElement?.blur());
  await p.paste(readFileSync(new URL("../../docs/screenshots/library.png", import.meta.url))); // 1280×800
  const document = await p.until("the pasted picture in the document", async () => {
    const d = await fetched(`/api/documents/${id}`);
    return d.blocks.some((b) => b.content.figures.length === 1) && d;
  });
  assert.equal(document.blocks.length, 1);
  await p.until("nothing waits", () =>
    p.browser.run(() => !/waits?\b/.test(document.querySelector("header").innerText)),
  );
  done("pasted a picture, which arrived");

  await p.press("Mark the picture of step 1");
  await p.sight('[role="application"]');
  await p.press("W Box");
  await p.draw('[role="application"]', [0.2, 0.2], [0.6, 0.6]);
  await p.until("the box on the server", async () => {
    const d = await fetched(`/api/documents/${id}`);
    const box = d.blocks[0].content.figures[0].marks[0];
    return (
      box?.kind === "box" &&
      box.points[0].x > 200 &&
      box.points[0].x < 300 &&
      box.points[1].y > 420 &&
      box.points[1].y < 540
    );
  });
  done("marked it");

  await p.press("Close the picture");
  await p.write("Words of step 1", "Press the large key.");
  await p.until("the words on the server", async () =>
    JSON.stringify((await fetched(`/api/documents/${id}`)).blocks).includes("Press the large key."),
  );
  done("wrote its words");

  await p.browser.goto(`${base}/d/${id}/pages`);
  await p.press("Make the PDF");
  await p.find("Download");
  const size = await p.browser.run(async () => {
    const link = [...document.querySelectorAll("a")].find((a) => a.innerText.startsWith("Download"));
    const file = new Uint8Array(await (await fetch(link.href)).arrayBuffer());
    return String.fromCharCode(...file.slice(0, 5)) === "%PDF-" ? file.length : 0;
  });
  assert.ok(size > 5000, `the PDF has ${size} bytes`);
  done(`made its PDF of ${Math.round(size / 1024)} KB`);

  await p.browser.goto(`${base}/d/${id}`);
  await p.sees("Press the large key.");
  await p.until("the finished picture", () =>
    p.browser.run(() => [...document.images].some((i) => i.complete && i.naturalWidth > 100)),
  );
  done("followed it");

  // Words are being written, and a press beside them reaches what was pressed, at once.
  const report = await fetched("/api/documents", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ title: `Fault in ${kind}`, kind: "report", blocks: [] }),
  });
  await p.browser.goto(`${base}/d/${report.id}/write`);
  await p.press("Words of “What happened”");
  await p.browser.type("It stays dark");
  await p.press("Every time");
  await p.until("“Every time” pressed", () =>
    p.browser.run(() =>
      [...document.querySelectorAll("button[aria-pressed=true]")].some((b) => b.innerText === "Every time"),
    ),
  );
  done("pressed beside words that were being written");

  await p.browser.goto(`${base}/capture`);
  await p.press("Share a screen");
  const shared = await p.until("a shared screen, or why not", () =>
    p.browser.run(() => {
      const alert = document.querySelector("main [role=alert]");
      if (alert) return alert.innerText;
      return [...document.querySelectorAll("button")].some((b) => b.innerText === "Stop sharing") ? "shared" : "";
    }),
  );
  if (shared !== "shared") {
    assert.match(shared, /^(Nothing is shared: |This browser can’t share)/);
    return done(`shares no screen here and says: ${shared}`);
  }
  const ids = async () => (await fetched("/api/shots")).map((s) => s.id); // the newest: there may be many
  const before = await ids();
  await p.press("Take");
  await p.until("the shot on the server", async () => (await ids()).some((id) => !before.includes(id)));
  done("captured from a shared screen");

  // Away and back: what is shared is still seen to move, and a shot is of the moment of the press.
  await p.press("Deliveries");
  await p.sees("Deliveries");
  await p.press("Capture");
  await p.until("the picture of what is shared, moving", () =>
    p.browser.run(() => {
      const v = document.querySelector("video");
      return v && !v.paused && v.readyState >= 2;
    }),
  );
  const seen = await ids();
  await p.press("Take");
  await p.until("another shot on the server", async () => (await ids()).some((id) => !seen.includes(id)));
  done("took another after having been elsewhere");
}
