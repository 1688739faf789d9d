import assert from "node:assert/strict";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { firefox } from "./firefox.mjs";
import { Person } from "./person.mjs";

const said = `addEventListener("message", (e) => e.data?.said && chrome.runtime.sendMessage(e.data.said)
  .then((heard) => postMessage({ heard })));`;

/** Records a run with the recorder itself, allowed everywhere, as after a person has said so. */
export async function recordsInFirefox(display, base, done) {
  const folder = mkdtempSync(join(tmpdir(), "raconte-recorder-"));
  cpSync(new URL("../recorder/dist", import.meta.url), folder, { recursive: true });
  const manifest = JSON.parse(readFileSync(join(folder, "manifest.json"), "utf8"));
  manifest.host_permissions = manifest.optional_host_permissions;
  delete manifest.optional_host_permissions;
  manifest.content_scripts = [{ matches: ["<all_urls>"], js: ["said.js"] }];
  writeFileSync(join(folder, "said.js"), said);
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
    // The panel is a page of the recorder's, which WebDriver opens none of; what its buttons say is said for it.
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
