// Moving pictures: recorded from both live sources, trimmed, marked, concealed, placed, played; told as a film.
import { type BrowserContext, expect, type Page, test } from "@playwright/test";
import { execFile } from "node:child_process";
import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { arrived, clickDesk, deskAt, openCapture, share, startPractice } from "./capturing";
import { accessible, browserOf, drag, grey, makeDocument, notices, saved, signIn, windowed, write } from "./support";

const run = promisify(execFile);
const shared = "Recorded by the test";

test.use({
  actionTimeout: 20_000,
  permissions: ["clipboard-read", "clipboard-write", "microphone", "camera"],
  launchOptions: {
    executablePath: windowed,
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--no-first-run",
      `--auto-select-tab-capture-source-by-title=${shared}`,
      "--use-fake-device-for-media-stream", // it beeps once a second
      "--use-fake-ui-for-media-stream",
    ],
  },
});

/** What ffprobe, as a second program, says of a file of the server's. */
async function probed(page: Page, address: string) {
  const folder = await mkdtemp(join(tmpdir(), "raconte-probed-"));
  try {
    const path = join(folder, "file");
    await writeFile(path, await (await page.request.get(address)).body());
    const entries = "format=duration:stream=codec_type,width,height:chapter=start_time";
    const { stdout } = await run("ffprobe", ["-v", "error", "-of", "json", "-show_entries", entries, path]);
    const said = JSON.parse(stdout) as {
      format: { duration: string };
      streams: { codec_type: string; width?: number; height?: number }[];
      chapters?: unknown[];
    };
    const levels = await run("ffmpeg", [
      "-hide_banner",
      "-i",
      path,
      "-vn",
      "-af",
      "volumedetect",
      "-f",
      "null",
      "-",
    ]).catch(() => ({ stderr: "" }));
    const loud = /max_volume: (-?[\d.]+)/.exec(levels.stderr)?.[1];
    return { ...said, seconds: Number(said.format.duration), loud: loud === undefined ? -99 : Number(loud) };
  } finally {
    await rm(folder, { recursive: true });
  }
}

/** Makes a revision of what is on the server. */
async function release(page: Page, document: string) {
  const { seq } = (await (await page.request.get(`/api/documents/${document}`)).json()) as { seq: number };
  const done = await page.request.put(`/api/documents/${document}/state`, { data: { act: "release", seq } });
  expect(done.ok(), await done.text()).toBe(true);
}

/** Waits until so many seconds were recorded; the answer is how many they are then. */
async function recorded(page: Page, least: number) {
  const timer = page.getByRole("group", { name: "Recording" }).getByRole("timer");
  const seconds = async () => Number(/:(\d+)$/.exec(await timer.innerText())?.[1]);
  await expect.poll(seconds).toBeGreaterThanOrEqual(least);
  return seconds();
}

const film = { microphone: "default", camera: "", pointer: true, countdown: 0 };

test("the workstation is recorded with a microphone, trimmed, marked, concealed, placed, and played by a reader", async ({
  page,
  browser,
}) => {
  await signIn(page);
  await openCapture(page, { what: "window", film });
  await startPractice(page);
  await page.mouse.move(...(await deskAt(page, 900, 500)));
  const begun = Date.now();
  await page.getByRole("button", { name: "Record", exact: false }).click();
  const recording = page.getByRole("group", { name: "Recording" });
  await recorded(page, 2);
  for (const x of [600, 800, 1000]) await clickDesk(page, x, 500);
  await recording.getByRole("button", { name: "Mute" }).click();
  await recorded(page, 5);
  await recording.getByRole("button", { name: "Pause" }).click();
  const shown = await recorded(page, 5);
  const paused = Date.now();
  await accessible(page); // takes its time, of which nothing is recorded
  const whileRecorded = (paused - begun) / 1000;
  await recording.getByRole("button", { name: "End" }).click();
  const [shot] = await arrived(page, 1);
  const id = shot?.id ?? "";
  const whole = await probed(page, `/api/shots/${id}/clip`);
  expect(whole.seconds).toBeGreaterThan(shown - 1.5);
  expect(whole.seconds, "what was paused is not in it").toBeLessThan(whileRecorded + 0.5);
  expect(whole.loud, "the microphone is heard").toBeGreaterThan(-40);

  await page.locator(`[data-shot="${id}"] a`).click();
  const clip = page.getByRole("region", { name: "Clip" });
  await expect(clip.getByRole("slider", { name: "Beginning" })).toBeVisible();
  await accessible(page);
  const type = async (label: string, time: string) => {
    await clip.getByLabel(label, { exact: true }).fill(time);
    await clip.getByLabel(label, { exact: true }).press("Enter");
  };
  await type("From", "1");
  await type("to", "3");
  await clip.getByRole("button", { name: "Keep only this" }).click();
  await expect(clip.getByRole("status")).toContainText("0:02.00 long");
  await clip.getByRole("slider", { name: "End" }).focus();
  await page.keyboard.press("Shift+ArrowRight"); // a second comes back
  await expect(clip.getByRole("status")).toContainText("0:03.00 long");
  await type("At", "2");
  await clip.getByRole("button", { name: "Freeze here for 2 s" }).click();
  await expect(clip.getByRole("status")).toContainText("0:05.00 long");
  await page.keyboard.press("z");
  await drag(page, [0.4, 0.3], [0.6, 0.5]);
  await clip.getByRole("button", { name: "Follow what it covers" }).click();
  await expect(notices(page).getByText(/It follows what it covers/)).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("w");
  await drag(page, [0.45, 0.6], [0.55, 0.7]);
  await type("From", "2");
  await type("to", "3");
  await clip.getByRole("button", { name: /^Only from/ }).click();
  await expect(clip.getByText("there from 0:02.00 to 0:03.00")).toBeVisible();
  await page.keyboard.press("g"); // the frame is a shot of its own
  await expect(notices(page).getByText("The frame is among your shots.")).toBeVisible();

  await page.getByRole("button", { name: "Place as a step" }).click();
  const title = `Clip ${Date.now()}`;
  await page.getByRole("dialog").getByLabel("Its title").fill(title);
  await page.getByRole("dialog").getByRole("button", { name: "Place", exact: true }).click();
  await expect(page.getByText("Clip, 0:05")).toBeVisible();
  await write(page, 1, "Watch how it is done");
  await saved(page);
  const document = /\/d\/([^/]+)\//.exec(page.url())?.[1] ?? "";
  await release(page, document);

  const reader = await browserOf(browser, "ruben");
  await reader.goto(`/d/${document}`);
  await reader.getByRole("button", { name: "Play the clip, 0:05" }).click();
  const video = reader.locator("video");
  await expect(video).toBeVisible();
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0.5);
  const figure = /figures\/([^/]+)\/clip/.exec((await video.getAttribute("src")) ?? "")?.[1] ?? "";
  const played = await probed(reader, `/api/documents/${document}/figures/${figure}/clip`);
  expect(Math.abs(played.seconds - 5)).toBeLessThan(0.1);
  await reader.context().close();
});

let other: Page | undefined;

async function shareTab(page: Page, context: BrowserContext) {
  other = await context.newPage();
  await other.setContent(`<title>${shared}</title><body style="margin:0;background:white"><h1>A tab</h1>`);
  await other.evaluate(() => {
    let n = 0;
    setInterval(() => (document.body.style.background = `hsl(${(n += 7) % 360} 60% 70%)`), 100);
  });
  await share(page, context, shared);
}

test("a recording that is ended at once has a picture, three times", async ({ page }) => {
  await signIn(page);
  await openCapture(page, { what: "window", film: { countdown: 0 } });
  await startPractice(page);
  for (let n = 1; n <= 3; n++) {
    await page.getByRole("button", { name: /^Record/ }).click();
    await page.getByRole("button", { name: /^End/ }).click();
    const shot = (await arrived(page, n)).at(-1);
    const first = await page.request.get(`/api/shots/${shot?.id}/clip/frame?at=0`);
    expect(first.status(), await first.text()).toBe(200);
  }
});

test("of a recording that a crash cuts short all but two seconds is there", async ({ page, context }) => {
  await signIn(page);
  await openCapture(page, { what: "everything", film: { ...film, microphone: "", camera: "default" } });
  await shareTab(page, context);
  await page.keyboard.press("r");
  const shown = await recorded(page, 7);
  await page.close({ runBeforeUnload: false });
  const again = await context.newPage();
  await again.goto("/capture");
  await expect(again.getByText("A recording that was cut short is among your shots")).toBeVisible();
  const [shot] = await arrived(again, 1);
  const kept = await probed(again, `/api/shots/${shot?.id}/clip`);
  expect(kept.seconds).toBeGreaterThan(shown - 2.2);
  expect(kept.streams.filter((s) => s.codec_type === "audio")).toHaveLength(0);
  const camera = await probed(again, `/api/shots/${shot?.id}/clip?camera=true`);
  expect(camera.seconds, "the camera was recorded beside it").toBeGreaterThan(4);
  await other?.close();
});

test("a film: steps chosen, an own voice beside a synthetic one, made, and watched by a reader by its steps", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const picture = grey(120);
  const { id } = await makeDocument(page.request, `Film ${Date.now()}`, [
    { words: "Open the room list", picture },
    { words: "Choose the coldest room", picture },
    { words: "Tell nobody" },
  ]);
  await page.goto(`/d/${id}/film`);
  await expect(page.getByText(/^3 scenes/)).toBeVisible();
  await accessible(page);
  const third = page.getByRole("listitem").filter({ hasText: "Tell nobody" });
  await third.getByRole("checkbox").check();
  await expect(page.getByText(/^4 scenes/)).toBeVisible();
  await third.getByRole("checkbox").uncheck();
  await page.getByLabel("What is said at 1").fill("First, open the list of rooms.");
  await page.getByLabel("What is said at 1").blur();
  await page.getByRole("button", { name: /^Record, 2/ }).click();
  await expect(page.getByRole("timer")).toHaveText("0:02"); // the fake microphone beeps
  await page.getByRole("button", { name: "End the recording" }).click();
  await expect(page.getByText(/^Your voice, 0:0/)).toBeVisible();
  await expect(page.getByText("still guessed")).toBeHidden();
  await page.getByRole("button", { name: "Play 1", exact: true }).click();
  await expect.poll(async () => Number(await page.getByLabel("Where in the film").inputValue())).toBeGreaterThan(3000);
  await page.getByLabel("Size").selectOption("720p");
  await page.getByLabel("Readers can watch it, from the next release on").check();
  await expect
    .poll(async () => (await (await page.request.get(`/api/documents/${id}`)).json()).facts.film?.offered)
    .toBe(true);
  await page.getByRole("button", { name: "Make the film" }).click();
  const link = page.getByRole("link", { name: /^Download/ });
  await expect(link).toBeVisible();
  const made = await probed(page, (await link.getAttribute("href")) ?? "");
  expect(made.streams.find((s) => s.codec_type === "video")).toMatchObject({ width: 1280, height: 720 });
  expect(made.streams.some((s) => s.codec_type === "subtitle")).toBe(true);
  expect(made.chapters).toHaveLength(3);
  expect(made.loud).toBeGreaterThan(-25);
  const told = await page.getByText(/^3 scenes/).innerText();
  const [, minutes, seconds] = /(\d+):(\d+)/.exec(told) ?? [];
  expect(Math.abs(made.seconds - (Number(minutes) * 60 + Number(seconds)))).toBeLessThan(1);

  await release(page, id);
  const reader = await browserOf(browser, "ruben");
  await reader.goto(`/d/${id}`);
  await reader.getByRole("button", { name: "Watch the film" }).click();
  const steps = reader.getByRole("navigation", { name: "Steps of the film" });
  await expect(steps.getByRole("button")).toHaveCount(3);
  await accessible(reader);
  await steps.getByRole("button", { name: "2 Choose the coldest room" }).click();
  const video = reader.locator("video");
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(3);
  await expect(steps.getByRole("button", { name: "2 Choose the coldest room" })).toHaveAttribute(
    "aria-current",
    "step",
  );
  await reader.getByLabel("Captions").check();
  expect(await video.evaluate((v: HTMLVideoElement) => v.textTracks[0]?.mode)).toBe("showing");
  await reader.context().close();
});
