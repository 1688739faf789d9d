import { Browser, Builder, Capabilities, Key } from "selenium-webdriver";
import { spawn } from "node:child_process";
import { createServer } from "node:net";

const port = () =>
  new Promise((resolve) => {
    const s = createServer().listen(0, "127.0.0.1", () => {
      const { port } = s.address();
      s.close(() => resolve(port));
    });
  });

const keys = { Escape: Key.ESCAPE, Enter: Key.ENTER, ArrowRight: Key.ARROW_RIGHT, Control: Key.CONTROL };

/** WebKitGTK's small browser, driven by its WebDriver. */
export async function webkit(display) {
  const at = await port();
  const driver = spawn(process.env.WEBKIT_DRIVER ?? "/usr/bin/WebKitWebDriver", [`--port=${at}`], {
    env: { ...process.env, DISPLAY: display, WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: "1", GDK_BACKEND: "x11" },
    stdio: "ignore",
  });
  const wants = new Capabilities({ browserName: "MiniBrowser" });
  wants.set("webkitgtk:browserOptions", {
    binary: process.env.WEBKIT ?? "/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser",
    args: ["--automation"],
  });
  let page;
  for (let tries = 0; !page; tries++) {
    try {
      page = await new Builder()
        .usingServer(`http://127.0.0.1:${at}`)
        .forBrowser(Browser.SAFARI)
        .withCapabilities(wants)
        .build();
    } catch (e) {
      if (tries > 20) throw e;
      await new Promise((r) => setTimeout(r, 250));
    }
  }
  await page.manage().window().setRect({ x: 0, y: 0, width: 1280, height: 860 });
  await page.manage().setTimeouts({ script: 30_000 });
  const act = () => page.actions({ async: true });
  const at2 = ({ x, y }) => ({ x: Math.round(x), y: Math.round(y), origin: "viewport", duration: 30 });
  return {
    errors: [],
    goto: (url) => page.get(url),
    run: (f, ...args) =>
      page.executeAsyncScript(
        `const done = arguments[arguments.length - 1];
         Promise.resolve((${f})(...[...arguments].slice(0, -1))).then(done, (e) => done({ threw: String(e) }));`,
        ...args,
      ),
    async picture(path) {
      const { writeFileSync } = await import("node:fs");
      writeFileSync(path, await page.takeScreenshot(), "base64");
    },
    type: (text) => act().sendKeys(text).perform(),
    async key(name, ...mods) {
      let a = act();
      for (const m of mods) a = a.keyDown(keys[m]);
      a = a.sendKeys(keys[name] ?? name);
      for (const m of mods) a = a.keyUp(keys[m]);
      await a.perform();
    },
    click: (p) => act().move(at2(p)).press().release().perform(),
    drag: (from, to) =>
      act()
        .move(at2(from))
        .press()
        .move(at2({ x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 }))
        .move(at2(to))
        .release()
        .perform(),
    async close() {
      await page.quit().catch(() => undefined);
      driver.kill();
    },
  };
}
