import { expect, test } from "@playwright/test";
import { arrived, choices, clickDesk, desk, deskAt, openCapture, pixel, startPractice } from "./capturing";
import { accessible, signIn, steps } from "./support";

test.beforeEach(({ page }) => signIn(page));

test("everything that can be meant is taken: window, part, monitor, region again, band, outline, list", async ({
  page,
}) => {
  await openCapture(page, { what: "window" });
  await startPractice(page);
  await accessible(page);
  const choose = (name: string) => page.getByRole("radio", { name }).check();
  const take = () => page.getByRole("button", { name: /^Take/ }).click();
  const point = async (at: [number, number]) => {
    await page.mouse.move(...(await deskAt(page, at[0], at[1])));
  };
  let n = 0;
  const last = async () => {
    n++;
    const all = await arrived(page, n);
    return all[n - 1];
  };

  await point(desk.middle);
  await take();
  let shot = await last();
  expect([shot.width, shot.height, shot.about.window?.title]).toEqual([1440, 850, "Lotroom: Receiving"]);
  expect(shot.about.pointer).toBeUndefined();

  await choices(page);
  await page.getByLabel("With its shadow").check();
  await point(desk.middle);
  await page.keyboard.press("Alt+t");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([1484, 894]);

  await choose("A part of a window");
  await point(desk.bins);
  await page.keyboard.press("Alt+t");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([114, 44]);

  await choose("A monitor");
  await point(desk.middle);
  await page.keyboard.press("Alt+t");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([1920, 1080]);

  await choose("A band of a window");
  await choose("As a mark that can be moved");
  await point(desk.bins);
  await page.keyboard.press("Alt+t");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([1440, 850]);
  expect(shot.about.crop?.w).toBe(1440);
  expect(shot.about.crop?.h).toBe(Math.round(850 * 0.35));
  expect(Math.abs((shot.about.pointer?.x ?? 0) - (desk.bins[0] - 220))).toBeLessThan(4);

  // A region: Escape takes nothing; then by mouse, keys and exact size.
  await choose("A region");
  await take();
  await expect(page.getByRole("button", { name: "Take region" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Take region" })).toBeHidden();
  await take();
  await page.mouse.move(...(await deskAt(page, 600, 300)));
  await page.mouse.down();
  await page.mouse.move(...(await deskAt(page, 900, 500)));
  await page.mouse.up();
  await page.getByLabel("Width").fill("641");
  await page.getByLabel("Width").press("Enter");
  await page.getByLabel("Height").fill("360");
  await page.getByLabel("Height").press("Enter");
  await page.getByRole("group", { name: /Draw a region/ }).focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Control+ArrowLeft");
  await page.keyboard.press("Enter");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([640, 360]);
  const region = shot.id;

  // The same area again, after the window was moved: the same pixels.
  await page.mouse.move(...(await deskAt(page, 900, 100)));
  await page.mouse.down();
  await page.mouse.move(...(await deskAt(page, 960, 120)), { steps: 3 });
  await page.mouse.up();
  await page.keyboard.press("Alt+a");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([640, 360]);
  for (const [x, y] of [
    [20, 20],
    [300, 180],
    [620, 340],
  ] as const) {
    expect(await pixel(page, shot.id, x, y)).toEqual(await pixel(page, region, x, y));
  }

  await choose("A freehand outline");
  await take();
  const corners: [number, number][] = [
    [600, 300],
    [900, 300],
    [750, 600],
  ];
  await page.mouse.move(...(await deskAt(page, ...corners[0])));
  await page.mouse.down();
  for (const c of corners.slice(1)) await page.mouse.move(...(await deskAt(page, ...c)), { steps: 4 });
  await page.mouse.up();
  shot = await last();
  expect((await pixel(page, shot.id, 2, shot.height - 3))[3]).toBe(0); // outside the outline
  expect((await pixel(page, shot.id, Math.round(shot.width / 2), 20))[3]).toBe(255);

  await choose("A long page or list");
  await page.getByLabel("Show", { exact: true }).selectOption("side");
  const shape = async () => {
    const live = await page.getByRole("application").boundingBox();
    return (live?.width ?? 0) / (live?.height ?? 1);
  };
  await expect.poll(shape).toBeCloseTo(1280 / 1024, 1); // the other monitor is seen
  const live = await page.getByRole("application").boundingBox();
  await page.mouse.move((live?.x ?? 0) + (live?.width ?? 0) / 3, (live?.y ?? 0) + (live?.height ?? 0) / 2);
  await page.keyboard.press("Alt+t");
  shot = await last();
  expect([shot.width, shot.height]).toEqual([858, 5760]);
});

test("clicks become steps with words and boxes, and repeats are folded away", async ({ page }) => {
  await openCapture(page, { what: "window", when: "click" });
  await startPractice(page);
  await clickDesk(page, ...desk.binCard);
  await page.keyboard.type("24-1187");
  await clickDesk(page, ...desk.bins);
  await page.keyboard.type("18");
  await clickDesk(page, ...desk.menuShow);
  await clickDesk(page, ...desk.seasonPlan);
  const shots = await arrived(page, 7);
  expect(shots.map((s) => `${s.about.action?.kind} ${s.about.action?.element?.name ?? s.about.action?.text}`)).toEqual([
    "keys E-mail",
    "keys Password",
    "shortcut Enter",
    "keys Bin card",
    "keys Bins",
    "click Show",
    "click Season plan",
  ]);
  expect(JSON.stringify(shots)).not.toContain("orchard-gate");

  await page.getByRole("button", { name: "Pause" }).click();
  await clickDesk(page, ...desk.middle);
  await choices(page);
  await page.getByRole("radio", { name: "When I say so" }).check();
  await page.getByRole("button", { name: "Done" }).click();
  for (let i = 0; i < 2; i++) await page.getByRole("button", { name: /^Take/ }).click();
  await arrived(page, 9);
  await page.getByRole("link", { name: "Contact sheet" }).click();
  await expect(page.getByText("1 shot repeats the one before.")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Delete it" }).click();
  await expect(page.getByRole("status").filter({ hasText: /^8 shots$/ })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("status").filter({ hasText: /^9 shots$/ })).toBeVisible();

  await page.getByRole("button", { name: "Place all as steps" }).click();
  await page.getByLabel("Its title").fill(`From clicks ${Date.now()}`);
  await page.getByRole("button", { name: "Place", exact: true }).click();
  await expect(steps(page)).toHaveCount(9);
  await expect(page.getByRole("group", { name: "Words of step 4", exact: true })).toContainText(
    "Type the lot number in Bin card.",
  );
  await expect(page.getByRole("group", { name: "Words of step 6", exact: true })).toContainText("Open Show.");
  await expect(steps(page).nth(5).locator("svg path").first()).toBeAttached(); // the box
  await expect(page.getByRole("status").filter({ hasText: /^Saved \d\d:\d\d$/ })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(steps(page)).toHaveCount(0);
});

test("a countdown counts, and is given up with Escape; a screen that settles is taken by itself", async ({ page }) => {
  await openCapture(page, { what: "monitor", when: "delay", delay: 2 });
  await startPractice(page);
  await clickDesk(page, ...desk.rooms);
  await page.getByRole("button", { name: /^Take/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  const [shot] = await arrived(page, 1);
  await expect(page.getByRole("timer")).toBeHidden();
  expect([shot?.width, shot?.height]).toEqual([1920, 1080]);
  await page.getByRole("button", { name: /^Take/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("timer")).toBeHidden();

  await choices(page);
  await page.getByRole("radio", { name: "When the screen has changed and settled" }).check();
  // Meanwhile the caret blinks and the clock goes on, of which no shot is taken.
  await clickDesk(page, ...desk.alarms);
  await arrived(page, 2);
  await clickDesk(page, ...desk.rooms);
  await arrived(page, 3);
});
