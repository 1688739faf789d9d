// Every source of shots is held to the same: what it brings is listed in order, says where it came from, has the
// size of what was taken, and stays when the source is gone.
import { type BrowserContext, expect, type Page, test } from "@playwright/test";
import { execFile } from "node:child_process";
import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { arrived, choices, openCapture, pixel, sessionShots, share, startPractice } from "./capturing";
import { accessible, base, copy, file, grey, notices, png, signIn, windowed } from "./support";

const run = promisify(execFile);
const shared = "Shared by the test";

test.use({
  launchOptions: {
    executablePath: windowed,
    args: ["--no-sandbox", "--disable-gpu", "--no-first-run", `--auto-select-tab-capture-source-by-title=${shared}`],
  },
});

type Driver = {
  source: string;
  open(page: Page, context: BrowserContext): Promise<void>;
  take(page: Page, n: number): Promise<void>;
  /** Loses the source, as when a person stops sharing; undefined where that can't happen. */
  lose?(page: Page): Promise<void>;
  size?: [number, number];
};

let other: Page | undefined;

const colors = ["rgb(200,30,30)", "rgb(30,160,60)", "rgb(30,60,200)"];

async function shareTab(page: Page, context: BrowserContext) {
  other = await context.newPage();
  await other.setContent(`<title>${shared}</title><body style="margin:0;background:white">`);
  await share(page, context, shared);
}

const drivers: Driver[] = [
  {
    source: "screen",
    open: shareTab,
    async take(page, n) {
      // Elsewhere and back: what is shared was not looked at meanwhile, and stands still.
      if (n === 1) {
        await page.getByRole("link", { name: "Deliveries" }).click();
        await expect(page.getByRole("heading", { name: "Deliveries" }).first()).toBeVisible();
        await page.getByRole("link", { name: "Capture" }).click();
        await expect(page.getByRole("button", { name: /^Take/ })).toBeVisible();
      }
      await other?.evaluate(
        async (c) => {
          document.body.style.background = c;
          for (let n = 0; n < 2; n++) await new Promise((painted) => requestAnimationFrame(painted));
        },
        colors[n % 3],
      );
      await page.keyboard.press("t"); // at once: a shot is never older than its press
    },
    async lose() {
      await other?.close();
    },
  },
  {
    source: "practice",
    open: startPractice,
    async take(page) {
      await page.getByRole("button", { name: /^Take/ }).click();
    },
    async lose(page) {
      await page.getByRole("button", { name: "Stop", exact: true }).click();
    },
    size: [3200, 1080],
  },
  {
    source: "clipboard",
    async open() {},
    async take(page, n) {
      await copy(page, grey(n * 20));
      await page.keyboard.press("Control+v");
    },
    size: [800, 450],
  },
  {
    source: "file",
    async open() {},
    async take(page, n) {
      const some =
        n === 0 ? [file("shot 10.png", grey(90)), file("shot 2.png", grey(60)), file("shot 1.png", grey(30))] : [];
      if (some.length > 0) await choices(page);
      if (some.length > 0) await page.getByLabel("Choose pictures").last().setInputFiles(some);
    },
    size: [800, 450],
  },
];

for (const d of drivers) {
  test(`shots from the source “${d.source}” are listed in order and stay when it is gone`, async ({
    page,
    context,
  }) => {
    await signIn(page);
    await openCapture(page, { what: "everything" });
    await d.open(page, context);
    for (let n = 0; n < 3; n++) {
      await d.take(page, n);
      await expect(page.locator("[data-shot]")).toHaveCount(d.source === "file" ? 3 : n + 1);
    }
    const shots = await arrived(page, 3);
    expect(shots.map((s) => s.about.source)).toEqual([d.source, d.source, d.source]);
    expect(new Set(shots.map((s) => s.name)).size).toBe(3);
    if (d.size) expect(shots.map((s) => [s.width, s.height])).toEqual([d.size, d.size, d.size]);
    if (d.source === "file") expect(shots.map((s) => s.name)).toEqual(["shot 1.png", "shot 2.png", "shot 10.png"]);
    if (d.source === "screen") {
      for (const [n, want] of [
        [200, 30, 30],
        [30, 160, 60],
        [30, 60, 200],
      ].entries()) {
        const got = await pixel(page, shots[n]?.id ?? "", 200, 200);
        want.forEach((v, i) => expect(Math.abs(v - (got[i] ?? 0)), `shot ${n + 1} is ${got}`).toBeLessThan(40));
      }
    }
    if (d.lose) {
      await d.lose(page);
      await expect(page.getByRole("button", { name: "Share a screen" })).toBeVisible();
      await expect(page.locator("[data-shot]")).toHaveCount(3);
      if (d.source === "screen")
        await expect(page.getByRole("alert")).toContainText("Sharing has stopped. Everything taken so far is kept.");
    }
    await page.reload();
    await expect(page.locator("[data-shot]")).toHaveCount(3);
    await accessible(page);
  });
}

test("a recorder sends a scripted session through the feed, once each, until its token is revoked", async ({
  page,
}) => {
  await signIn(page);
  await page.goto("/setup/recorders");
  await accessible(page);
  await page.getByRole("button", { name: "Add a recorder" }).click();
  await page.getByLabel("What it is called").fill("Dock PC");
  await page.getByRole("button", { name: "Make its token" }).click();
  const token = await page.locator("[data-token]").innerText();
  const dir = await mkdtemp(join(tmpdir(), "raconte-feed-"));
  const name = `Feed ${Date.now()}`;
  const send = () =>
    run("node", ["../../docs/feed-example.mjs", dir, base, name], { env: { ...process.env, RACONTE_TOKEN: token } });
  try {
    await run("../../bin/raconte", ["practice", "../../docs/practice-example.txt", "-o", dir]);
    await send();
    await send(); // a recorder that was interrupted and begins again
    const sessions = (await (await page.request.get("/api/captures")).json()) as {
      id: string;
      name: string;
      shots: number;
    }[];
    const session = sessions.find((s) => s.name === name);
    expect(session?.shots).toBe(7);
    await page.goto(`/capture/${session?.id}`);
    await expect(page.getByRole("button", { name: "Shot 1, Choose Receiving" })).toBeVisible();
    const said = (await sessionShots(page)).map((s) => s.about.action?.kind ?? "");
    expect(said).toEqual(["click", "keys", "keys", "click", "click", "click", ""]);
    await page.goto("/setup/recorders");
    await page
      .getByRole("listitem")
      .filter({ hasText: "Dock PC" })
      .first()
      .getByRole("button", { name: "Revoke" })
      .click();
    await expect(notices(page).getByText("“Dock PC” can send nothing any more. What it sent stays.")).toBeVisible();
    await writeFile(join(dir, "extra"), "");
    const refused = await send().catch((e: { stderr: string }) => e);
    expect(refused.stderr).toContain("it was revoked");
  } finally {
    await rm(dir, { recursive: true });
  }
});

test("a pasted picture that spans two monitors is offered as its parts", async ({ page }) => {
  await signIn(page);
  await openCapture(page);
  // A left monitor of 800 × 600 and a lower one of 700 × 500 beside it: black where there is no screen.
  const both = png(1500, 600, (x, y) => (x < 800 ? [230, 230, 240] : y < 500 ? [90, 140, 200] : [0, 0, 0]));
  await copy(page, both);
  await page.keyboard.press("Control+v");
  await arrived(page, 1);
  await page.getByRole("button", { name: "Split in 2 monitors" }).click();
  // The whole goes when its parts are there.
  await expect
    .poll(async () => (await sessionShots(page)).map((s) => [s.width, s.height]))
    .toEqual([
      [800, 600],
      [700, 500],
    ]);
});
