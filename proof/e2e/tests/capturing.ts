import { type BrowserContext, expect, type Page } from "@playwright/test";

export type TakenShot = {
  id: string;
  name: string;
  width: number;
  height: number;
  verdict: string;
  placed: boolean;
  about: {
    source: string;
    window?: { title: string };
    pointer?: { x: number; y: number; drawn?: boolean };
    crop?: { x: number; y: number; w: number; h: number };
    action?: { kind: string; text?: string; element?: { name: string } };
    note?: string;
  };
};

export async function openCapture(page: Page, settings: object = {}) {
  await page.evaluate((s) => localStorage.setItem("raconte-capture", JSON.stringify(s)), settings);
  await page.goto("/capture");
  await expect(page.getByRole("button", { name: "Share a screen" })).toBeVisible();
}

/**
 * Shares the tab of a title, which the browser was told to choose: it has to know the title before it is asked, and
 * hears of it a moment after the tab itself.
 */
export async function share(page: Page, context: BrowserContext, title: string) {
  const browser = await context.browser()?.newBrowserCDPSession();
  const titles = async () => (await browser?.send("Target.getTargets"))?.targetInfos.map((t) => t.title);
  await expect.poll(titles).toContain(title);
  await browser?.detach();
  await page.bringToFront();
  await page.getByRole("button", { name: "Share a screen" }).click();
  await expect(page.getByRole("button", { name: "Stop sharing" })).toBeVisible();
}

/** Opens what can be chosen of how to capture. */
export async function choices(page: Page) {
  const open = page.getByRole("button", { name: "Change", exact: true });
  await expect(open.or(page.getByRole("button", { name: "Done", exact: true }))).toBeVisible();
  if (await open.isVisible()) await open.click();
}

/** Starts the practice workstation and signs in on it, as a person would. */
export async function startPractice(page: Page) {
  await page.getByRole("button", { name: "Start the workstation" }).click();
  await expect(page.getByRole("application")).toBeVisible();
  await clickDesk(page, 900, 490);
  await page.keyboard.type("ines@pellworth.example");
  await page.keyboard.press("Tab");
  await page.keyboard.type("orchard-gate");
  await page.keyboard.press("Enter");
}

/** Where a place on the workstation's main monitor is on the page. */
export async function deskAt(page: Page, x: number, y: number): Promise<[number, number]> {
  const live = page.getByRole("application");
  await expect.poll(async () => (await live.boundingBox())?.width ?? 0).toBeGreaterThan(300);
  const box = await live.boundingBox();
  if (!box) throw new Error("nothing live is shown");
  const k = box.width / 1920;
  return [box.x + x * k, box.y + y * k];
}

export async function clickDesk(page: Page, x: number, y: number) {
  await page.mouse.click(...(await deskAt(page, x, y)));
}

/** Places on the workstation's main monitor, of Lotroom as it lies there at first. */
export const desk = {
  binCard: [740, 298],
  bins: [650, 466],
  alarms: [320, 384],
  rooms: [320, 234],
  menuShow: [320, 137],
  seasonPlan: [320, 230],
  middle: [900, 700],
} satisfies Record<string, [number, number]>;

/** The session's shots as the server has them. */
export async function sessionShots(page: Page): Promise<TakenShot[]> {
  const ids = await page.evaluate(() =>
    Object.entries(localStorage)
      .filter(([k]) => k.startsWith("raconte-session "))
      .map(([, kept]) => (JSON.parse(kept) as { id?: string }).id),
  );
  for (const id of ids) {
    const answer = await page.request.get(`/api/captures/${id}`);
    if (answer.ok()) return ((await answer.json()) as { shots: TakenShot[] }).shots;
  }
  return []; // or all are those of others who were signed in here
}

/** Waits until the server has so many shots of the session, and gives them. */
export async function arrived(page: Page, count: number): Promise<TakenShot[]> {
  await expect.poll(async () => (await sessionShots(page)).length).toBe(count);
  return sessionShots(page);
}

/** The colour of a pixel of a shot. */
export async function pixel(page: Page, shot: string, x: number, y: number): Promise<number[]> {
  return page.evaluate(
    async ([shot, x, y]) => {
      const picture = await createImageBitmap(await (await fetch(`/api/shots/${shot}`)).blob());
      const canvas = new OffscreenCanvas(picture.width, picture.height);
      const on = canvas.getContext("2d") as OffscreenCanvasRenderingContext2D;
      on.drawImage(picture, 0, 0);
      return [...on.getImageData(x, y, 1, 1).data];
    },
    [shot, x, y] as const,
  );
}
