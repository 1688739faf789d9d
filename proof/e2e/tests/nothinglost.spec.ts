// A server of its own, that can be killed in the middle.
import { expect, test } from "@playwright/test";
import { type ChildProcess, spawn } from "node:child_process";
import { arrived, openCapture, sessionShots, startPractice } from "./capturing";
import { leaves, password } from "./support";

const port = Number(process.env.RACONTE_PORT ?? 8420) + 20; // beyond those of the stand-ins
const address = `http://127.0.0.1:${port}`;
test.use({ baseURL: address });
test.skip(!process.env.RACONTE_DATABASE, "run by make test, which says where the database is");

let server: ChildProcess | undefined;

async function startServer() {
  server = spawn("../../bin/raconte", ["serve"], {
    env: { ...process.env, RACONTE_PORT: String(port), RACONTE_MAIL_IN_PORT: "0" },
    stdio: "ignore",
  });
  await expect.poll(async () => (await fetch(`${address}/api/health`).catch(() => undefined))?.ok).toBe(true);
}

const kill = () =>
  new Promise((resolve) => {
    server?.once("exit", resolve);
    server?.kill("SIGKILL");
  });

test.beforeAll(startServer);
test.afterAll(() => kill());

test("a server killed in the middle of a burst of fifty loses nothing, and each arrives once and in order", async ({
  page,
  context,
}) => {
  leaves(page);
  await page.request.post("/api/session", { data: { name: "tomasz", password } });
  await page.goto("/");
  await openCapture(page, {
    what: "region",
    pattern: "{n}",
    region: { rect: { x: 0, y: 0, w: 300, h: 200 }, w: 3200, h: 1080 },
  });
  await startPractice(page);
  const take = async (n: number) => {
    for (let i = 0; i < n; i++) await page.keyboard.press("Alt+a");
  };
  await take(20);
  await expect.poll(async () => (await sessionShots(page)).length).toBeGreaterThan(3);
  await kill();
  await take(20);
  await expect(page.locator("[data-shot]").last()).toBeVisible();
  await expect(page.getByText("in this browser for the server.")).toBeVisible();
  await expect(page.getByRole("status").filter({ hasText: "40 shots" })).toBeVisible();
  await take(10);
  await expect(page.getByRole("status").filter({ hasText: "50 shots" })).toBeVisible();

  // The tab is closed, the server comes back, and a new tab goes on.
  await page.close({ runBeforeUnload: false });
  await startServer();
  const again = await context.newPage();
  await again.goto("/capture");
  const shots = await arrived(again, 50);
  expect(shots.map((s) => s.name)).toEqual(
    Array.from({ length: 50 }, (_, i) => `${String(i + 1).padStart(3, "0")}.png`),
  );
  expect(new Set(shots.map((s) => s.id)).size).toBe(50);
  await expect(again.getByText("in this browser for the server.")).toBeHidden();
});
