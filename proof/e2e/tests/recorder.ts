import { type BrowserContext, chromium, expect, type Page, request, type Worker } from "@playwright/test";
import { execFileSync, spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { type AddressInfo, connect as connectTo, createServer as createLine, type Socket } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { base, leaves, password, windowed } from "./support";

export type Recording = {
  context: BrowserContext;
  page: Page;
  panel: Page;
  worker: Worker;
  /** Opens the recorder's panel over the page whose address begins so. */
  over: (address: string) => Promise<void>;
  end: () => Promise<void>;
};

/**
 * A Chromium with the recorder as Setup hands it out, allowed everywhere, as after a person has said so; on a dense
 * screen it shows twice the pixels.
 */
export async function withRecorder(dense = false): Promise<Recording> {
  const folder = mkdtempSync(join(tmpdir(), "raconte-recorder-"));
  const api = await request.newContext();
  await api.post(`${base}/api/session`, { data: { name: "tomasz", password } });
  const zip = await api.get(`${base}/api/recorder`);
  writeFileSync(join(folder, "recorder.zip"), await zip.body());
  await api.dispose();
  execFileSync("unzip", ["-q", join(folder, "recorder.zip"), "-d", folder]);
  const recorder = join(folder, "raconte-recorder");
  const manifest = JSON.parse(readFileSync(join(recorder, "manifest.json"), "utf8")) as Record<string, unknown>;
  manifest.host_permissions = manifest.optional_host_permissions;
  delete manifest.optional_host_permissions;
  writeFileSync(join(recorder, "manifest.json"), JSON.stringify(manifest));
  const context = await chromium.launchPersistentContext(
    join(folder, "profile"),
    launch([`--disable-extensions-except=${recorder}`, `--load-extension=${recorder}`], dense),
  );
  const worker = context.serviceWorkers()[0] ?? (await context.waitForEvent("serviceworker"));
  const page = await context.newPage();
  leaves(page);
  await page.request.post(`${base}/api/session`, { data: { name: "tomasz", password } });
  const panel = await context.newPage();
  const over = async (address: string) => {
    const tab = await worker.evaluate(
      async (a) => (await chrome.tabs.query({})).find((t) => t.url?.startsWith(a))?.id,
      address,
    );
    await panel.goto(`chrome-extension://${new URL(worker.url()).host}/panel.html?tab=${tab}`);
  };
  const end = async () => {
    await context.close();
    rmSync(folder, { recursive: true, force: true });
  };
  return { context, page, panel, worker, over, end };
}

const launch = (args: string[], dense: boolean) => ({
  executablePath: windowed,
  headless: false,
  viewport: dense ? null : { width: 1280, height: 800 },
  args: [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    ...(dense ? ["--force-device-scale-factor=2", "--window-size=1920,1080"] : []),
    ...args,
  ],
});

/** Connects the recorder as a person does: on the page of recorders, with one press. */
export async function connect({ page, panel, over }: Recording, house = base) {
  await page.goto(`${house}/setup/recorders`);
  await over(`${house}/setup/recorders`);
  await panel.getByRole("button", { name: "Connect" }).click();
  await expect(panel.getByRole("button", { name: "Record this tab" })).toBeVisible();
}

/** Records what a person does on a page. */
export async function record(r: Recording, address: string, act: () => Promise<void>, any = false) {
  await r.page.goto(address);
  await r.over(address);
  await r.panel.getByRole("button", { name: any ? "Record any page" : "Record this tab" }).click();
  await expect(r.panel.getByRole("button", { name: "Stop" })).toBeVisible();
  await r.page.bringToFront();
  await act();
  await r.panel.getByRole("button", { name: "Stop" }).dispatchEvent("click");
  await expect(r.panel.getByRole("link", { name: "See the run in Raconte" })).toBeVisible();
  await expect(r.panel.getByText("not sent yet")).toHaveCount(0);
}

/** Waits until so many pictures were taken in the run. */
export const taken = ({ panel }: Recording, pictures: number) =>
  expect(panel.locator("#count")).toHaveText(pictures === 1 ? "1 picture" : `${pictures} pictures`);

export type Shot = {
  id: string;
  width: number;
  height: number;
  about: {
    address?: string;
    window?: { title: string };
    pointer?: { x: number; y: number };
    replay?: { of: string; fit: string };
    action?: {
      kind: string;
      text?: string;
      element?: { name: string; role: string; rect: { x: number; y: number; w: number; h: number } };
    };
  };
};

/** The run's shots, as the server has them. */
export async function run({ page, panel }: Recording): Promise<Shot[]> {
  const see = (await panel.getByRole("link", { name: "See the run in Raconte" }).getAttribute("href")) ?? "";
  const answer = await page.request.get(`${base}/api/captures/${see.split("/").pop()}`);
  return ((await answer.json()) as { shots: Shot[] }).shots;
}

/** Makes a document of the run at one press; its id. */
export async function writeUp({ page, panel }: Recording): Promise<string> {
  const see = (await panel.getByRole("link", { name: "See the run in Raconte" }).getAttribute("href")) ?? "";
  await page.goto(`${base}${new URL(see).pathname}`);
  await page.getByRole("button", { name: "Make a procedure" }).click();
  await expect(page.getByRole("status").filter({ hasText: /^Saved \d\d:\d\d$/ })).toBeVisible();
  return page.url().split("/d/")[1]?.split("/")[0] ?? "";
}

/** Goes through the last run again by the command line, answering what it asks. */
export async function checkByCommand({ page, panel }: Recording, at: string, answers: string) {
  const see = (await panel.getByRole("link", { name: "See the run in Raconte" }).getAttribute("href")) ?? "";
  const made = await page.request.post(`${base}/api/devices`, { data: { name: "Command" } });
  const { token } = (await made.json()) as { token: string };
  const command = spawn("../../bin/raconte", ["recorder", "check", see, "--at", at, "--hidden"], {
    env: { ...process.env, RACONTE_TOKEN: token },
  });
  let out = "";
  command.stdout.on("data", (some) => (out += String(some)));
  command.stdin.end(answers);
  const code = await new Promise<number | null>((ended) => command.on("close", ended));
  return { out, code };
}

/** A line to the server that can be cut, as a network is. */
export async function line() {
  const open = new Set<Socket>();
  let port = 0;
  let server: ReturnType<typeof createLine>;
  const mend = async () => {
    server = createLine((from) => {
      const to = connectTo(Number(new URL(base).port), "127.0.0.1");
      for (const s of [from, to]) {
        open.add(s);
        s.on("close", () => open.delete(s)).on("error", () => s.destroy());
      }
      from.pipe(to).pipe(from);
    });
    await new Promise<void>((ready) => server.listen(port, "127.0.0.1", ready));
    port = (server.address() as AddressInfo).port;
  };
  const cut = () => {
    server.close();
    open.forEach((s) => s.destroy());
  };
  await mend();
  return { address: `http://127.0.0.1:${port}`, cut, mend };
}

/** Serves pages of ours that behave badly, each at its path. */
export async function serve(
  pages: Record<string, string>,
  policy?: string,
): Promise<{ address: string; server: Server }> {
  const server = createServer((asked, answer) => {
    const path = (asked.url ?? "/").split("?")[0] ?? "/";
    answer.setHeader("Content-Type", "text/html; charset=utf-8");
    if (policy) answer.setHeader("Content-Security-Policy", policy);
    answer.end(`<!doctype html><meta charset="utf-8"><body style="margin:0;background:#fff">${pages[path] ?? ""}`);
  });
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  const at = server.address();
  return { address: `http://127.0.0.1:${typeof at === "object" && at ? at.port : 0}`, server };
}

/** The colour of a shot at a place, as "r,g,b". */
export async function colourAt({ page }: Recording, shot: Shot, x: number, y: number): Promise<string> {
  const data = (await (await page.request.get(`${base}/api/shots/${shot.id}`)).body()).toString("base64");
  const blank = await page.context().newPage();
  try {
    return await blank.evaluate(
      async ({ data, x, y }) => {
        const image = new Image();
        image.src = `data:image/png;base64,${data}`;
        await image.decode();
        const canvas = new OffscreenCanvas(image.width, image.height);
        const pen = canvas.getContext("2d");
        pen?.drawImage(image, 0, 0);
        return [...(pen?.getImageData(x, y, 1, 1).data ?? [])].slice(0, 3).join();
      },
      { data, x, y },
    );
  } finally {
    await blank.close();
  }
}
