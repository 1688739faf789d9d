import { execFile } from "node:child_process";
import { writeFile } from "node:fs/promises";

const patience = 20_000;

/** What a person does in a browser: looks for things by their names, presses, writes, draws, pastes. */
export class Person {
  constructor(browser, display, folder) {
    Object.assign(this, { browser, display, folder });
  }

  /** Tries until an answer comes that is not empty. */
  async until(what, f) {
    const end = Date.now() + patience;
    for (let last; ;) {
      try {
        const answer = await f();
        if (answer) return answer;
      } catch (e) {
        last = e;
      }
      if (Date.now() > end) throw new Error(`${what}: not seen in ${patience / 1000} s${last ? ` (${last})` : ""}`);
      await new Promise((r) => setTimeout(r, 100));
    }
  }

  /** The middle of the thing with a name, once it is there and can be pressed. */
  find(name) {
    return this.until(`“${name}”`, () => this.browser.run(inSight, name));
  }

  async press(name) {
    await this.browser.click(await this.find(name));
  }

  async write(name, text) {
    await this.press(name);
    await this.browser.type(text);
  }

  sees(text) {
    return this.until(`the words “${text}”`, () => this.browser.run((t) => document.body.innerText.includes(t), text));
  }

  sight(selector) {
    return this.until(selector, () =>
      this.browser.run((s) => {
        const r = document.querySelector(s)?.getBoundingClientRect();
        return r && r.width > 0 ? { x: r.x, y: r.y, w: r.width, h: r.height } : null;
      }, selector),
    );
  }

  /** Draws over the thing, from and to in shares of its size. */
  async draw(selector, from, to) {
    const r = await this.sight(selector);
    const at = ([x, y]) => ({ x: r.x + x * r.w, y: r.y + y * r.h });
    await this.browser.drag(at(from), at(to));
  }

  /** Another program has copied a picture, and Ctrl+V is pressed. */
  async paste(png) {
    const path = `${this.folder}/copied.png`;
    await writeFile(path, png);
    const own = { env: { ...process.env, DISPLAY: this.display } };
    await new Promise((resolve, reject) => {
      const clip = execFile(
        "xclip",
        ["-quiet", "-loops", "0", "-selection", "clipboard", "-t", "image/png", path],
        own,
      );
      clip.on("error", reject);
      this.clip?.kill();
      this.clip = clip;
      setTimeout(resolve, 300);
    });
    await this.browser.key("v", "Control");
  }
}

/** Runs in the page: the middle of what can be pressed and is called so, or begins so, when it is in sight. */
function inSight(name) {
  const called = (e) => e.getAttribute("aria-label") ?? (e.labels?.[0] ?? e).innerText.replace(/\s+/g, " ").trim();
  const all = [...document.querySelectorAll("button, a, input, textarea, select, [role], [contenteditable=true]")];
  const begins = all.filter((e) => called(e).startsWith(name));
  for (const e of [...begins].sort((a, b) => called(a).length - called(b).length)) {
    if (e.disabled) continue;
    e.scrollIntoView({ block: "nearest" });
    const r = e.getBoundingClientRect();
    if (r.width === 0 || r.height === 0) continue;
    const [x, y] = [r.x + r.width / 2, r.y + r.height / 2];
    const top = document.elementFromPoint(x, y);
    if (top && (e.contains(top) || top.contains(e) || e.labels?.[0]?.contains(top))) return { x, y };
  }
  return null;
}
