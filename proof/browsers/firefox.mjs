import puppeteer from "puppeteer-core";

/** Debian's Firefox, driven by WebDriver BiDi. */
export async function firefox(display, prefs = {}) {
  const browser = await puppeteer.launch({
    browser: "firefox",
    executablePath: process.env.FIREFOX ?? "/usr/bin/firefox-esr",
    headless: false,
    env: { ...process.env, DISPLAY: display, MOZ_ENABLE_WAYLAND: "0" },
    args: ["--width=1280", "--height=900"],
    extraPrefsFirefox: {
      "media.navigator.permission.disabled": true,
      "media.navigator.streams.fake": true,
      "app.update.enabled": false,
      "browser.shell.checkDefaultBrowser": false,
      ...prefs,
    },
  });
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  const errors = [];
  // A dialog's lock on scrolling is a style the page's own policy refuses; it is of no use here and does no harm.
  page.on("pageerror", (e) => e.message.includes("style-src-elem") || errors.push(e.message));
  const held = { Control: "Control" };
  return {
    errors,
    goto: (url) => page.goto(url, { waitUntil: "domcontentloaded" }),
    run: (f, ...args) => page.evaluate(f, ...args),
    picture: (path) => page.screenshot({ path }),
    type: (text) => page.keyboard.type(text),
    async key(name, ...mods) {
      for (const m of mods) await page.keyboard.down(held[m]);
      await page.keyboard.press(name);
      for (const m of mods) await page.keyboard.up(held[m]);
    },
    click: ({ x, y }) => page.mouse.click(x, y),
    async drag(from, to) {
      await page.mouse.move(from.x, from.y);
      await page.mouse.down();
      await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2);
      await page.mouse.move(to.x, to.y);
      await page.mouse.up();
    },
    install: (folder) => browser.installExtension(folder),
    close: () => browser.close(),
  };
}
