import assert from "node:assert/strict";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { firefox } from "./firefox.mjs";
import { Person } from "./person.mjs";

const uuid = "6f0c2b9e-6d0a-4b52-9a3c-2f1d6c1b7a10"; // by which Firefox names the extension's pages

/** Records a run with the recorder itself, allowed everywhere, as after a person has said so. */
export async function recordsInFirefox(display, base, done) {
  const folder = mkdtempSync(join(tmpdir(), "raconte-recorder-"));
  cpSync(new URL("../recorder/dist", import.meta.url), folder, { recursive: true });
  const manifest = JSON.parse(readFileSync(join(folder, "manifest.json"), "utf8"));
  manifest.host_permissions = manifest.optional_host_permissions;
  delete manifest.optional_host_permissions;
  writeFileSync(join(folder, "manifest.json"), JSON.stringify(manifest));
  const browser = await firefox(display, {
    "extensions.webextensions.uuids": JSON.stringify({ [manifest.browser_specific_settings.gecko.id]: uuid }),
    "extensions.originControls.grantByDefault": true,
  });
  const p = new Person(browser, display, folder);
  try {
    await browser.install(folder);
    await browser.goto(base);
    await p.write("Name", "ines");
    await p.write("Password", "pellworth");
    await browser.key("Enter");
    await p.sees("Documents");
    const panel = await browser.tab();
    const over = async (address) => {
      await browser.goto(address);
      await panel.goto(`moz-extension://${uuid}/panel.html`);
      const tab = await panel.evaluate(async (a) => (await chrome.tabs.query({})).find((t) => t.url?.startsWith(a))?.id, address);
      await panel.goto(`moz-extension://${uuid}/panel.html?tab=${tab}`);
    };
    const press = async (id) => {
      await panel.waitForSelector(`#${id}`, { visible: true });
      await panel.evaluate((i) => document.getElementById(i).click(), id);
    };
    await over(`${base}/setup`);
    await press("connect");
    await panel.waitForSelector("#here", { visible: true });
    done("connected its recorder");

    await over(`${base}/practice`);
    await press("here");
    await panel.waitForSelector("#stop", { visible: true });
    await browser.front();
    await p.write("E-mail", "ines@pellworth.example");
    await browser.key("Tab");
    await browser.type("planted-orchard-gate");
    await p.press("Sign in");
    await p.press("Rooms");
    await p.press("Door log");
    await p.press("Back to the rooms");
    await press("stop");
    const see = await panel.waitForSelector("#see", { visible: true }).then((e) => e.evaluate((a) => a.href));
    await browser.goto(base);
    const shots = await p.until("six shots", () =>
      browser.run(async (id) => {
        const got = await fetch(`/api/captures/${id}`).then((r) => (r.ok ? r.json() : undefined));
        return got && got.shots.length >= 7 ? got.shots : null;
      }, see.split("/").pop()),
    );
    const acts = shots.map((s) => [s.about.action.kind, s.about.action.element?.name].filter(Boolean).join(" "));
    assert.deepEqual(acts, ["keys E-mail", "keys Password", "click Sign in", "click Rooms", "click Door log", "click Back to the rooms", "end"]);
    assert.ok(!JSON.stringify(shots).includes("planted"));
    // The picture of “Door log” shows the rooms, and that of the way back the log: each the state before.
    const words = await browser.run(async (ids) => {
      const size = async (id) => (await (await fetch(`/api/shots/${id}`)).blob()).size;
      return Promise.all(ids.map(size));
    }, [shots[4].id, shots[5].id]);
    assert.notEqual(words[0], words[1]);
    done("recorded a run of six acts, each before its effect");
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
