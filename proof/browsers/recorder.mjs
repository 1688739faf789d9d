import assert from "node:assert/strict";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { firefox } from "./firefox.mjs";
import { Person } from "./person.mjs";

// WebDriver opens none of an extension's own pages, so one opens itself and says what a page puts into this mailbox.
const driver = {
  "driver.html": `<script src="driver.js"></script>`,
  "open.js": `chrome.tabs.create({ url: "driver.html", active: false });`,
  "driver.js": `chrome.storage.onChanged.addListener(({ said }) => said?.newValue &&
    chrome.runtime.sendMessage(said.newValue.message).then((heard) => chrome.storage.local.set({ heard: { n: said.newValue.n, heard } })));`,
  "mailbox.js": `let n = 0;
    addEventListener("message", (e) => e.data?.said && chrome.storage.local.set({ said: { n: ++n, message: e.data.said } }));
    chrome.storage.onChanged.addListener(({ heard }) => heard?.newValue && postMessage({ heard: heard.newValue.heard }));`,
};

/** Records a run with the recorder itself, allowed everywhere, as after a person has said so. */
export async function recordsInFirefox(display, base, done) {
  const folder = mkdtempSync(join(tmpdir(), "raconte-recorder-"));
  cpSync(new URL("../../recorder/dist", import.meta.url), folder, { recursive: true });
  const manifest = JSON.parse(readFileSync(join(folder, "manifest.json"), "utf8"));
  manifest.host_permissions = manifest.optional_host_permissions;
  delete manifest.optional_host_permissions;
  manifest.content_scripts = [{ matches: ["<all_urls>"], js: ["mailbox.js"] }];
  manifest.background.scripts.push("open.js");
  for (const [name, text] of Object.entries(driver)) writeFileSync(join(folder, name), text);
  writeFileSync(join(folder, "manifest.json"), JSON.stringify(manifest));
  const browser = await firefox(display, { "extensions.originControls.grantByDefault": true });
  const p = new Person(browser, display, folder);
  try {
    await browser.install(folder);
    await browser.goto(base);
    await p.write("Name", "ines");
    await p.write("Password", "pellworth");
    await browser.key("Enter");
    await p.sees("Documents");
    // What the panel's buttons say.
    const say = (message) =>
      p.until("the recorder", () =>
        browser.run(
          (m) =>
            new Promise((heard) => {
              addEventListener("message", (e) => e.data?.heard && heard(e.data.heard));
              postMessage({ said: m });
              setTimeout(() => heard(null), 2000);
            }),
          message,
        ),
      );
    const { token } = await browser.run(async () => {
      const body = JSON.stringify({ name: "Browser recorder (Firefox)" });
      return (
        await fetch("/api/devices", { method: "POST", headers: { "Content-Type": "application/json" }, body })
      ).json();
    });
    await say({ connect: { address: base, token, name: "Ines" } });
    done("connected its recorder");

    await browser.goto(`${base}/practice`);
    await say({ do: "start", any: true });
    await p.write("E-mail", "ines@pellworth.example");
    await browser.key("Tab");
    await browser.type("planted-orchard-gate");
    // At a person's pace: Firefox gives a picture only between acts.
    for (const name of ["Sign in", "Rooms", "Door log", "Back to the rooms"]) {
      await new Promise((r) => setTimeout(r, 800));
      await p.press(name);
    }
    const { run } = await say({ do: "stop" });
    await browser.goto(base);
    const shots = await p.until("six shots", () =>
      browser.run(async (id) => {
        const got = await fetch(`/api/captures/${id}`).then((r) => (r.ok ? r.json() : undefined));
        return got && got.shots.length >= 7 ? got.shots : null;
      }, run.id),
    );
    const acts = shots.map((s) => [s.about.action.kind, s.about.action.element?.name].filter(Boolean).join(" "));
    assert.deepEqual(acts, [
      "keys E-mail",
      "keys Password",
      "click Sign in",
      "click Rooms",
      "click Door log",
      "click Back to the rooms",
      "end",
    ]);
    assert.ok(!JSON.stringify(shots).includes("planted"));
    // The picture of “Door log” shows the rooms, and that of the way back the log: each the state before.
    const words = await browser.run(
      async (ids) => {
        const size = async (id) => (await (await fetch(`/api/shots/${id}`)).blob()).size;
        return Promise.all(ids.map(size));
      },
      [shots[4].id, shots[5].id],
    );
    assert.notEqual(words[0], words[1]);
    done("recorded a run of six acts, each before its effect");
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
