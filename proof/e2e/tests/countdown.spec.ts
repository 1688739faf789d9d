// The page shares itself, so that whatever it shows on top of what is taken would be in the shot.
import { expect, test } from "@playwright/test";
import { arrived, openCapture, pixel, share } from "./capturing";
import { signIn, windowed } from "./support";

test.use({
  launchOptions: {
    executablePath: windowed,
    args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--auto-select-tab-capture-source-by-title=Capture"],
  },
});

test("a countdown is never in the shot", async ({ page }) => {
  await signIn(page);
  await openCapture(page, { what: "everything", when: "delay", delay: 2 });
  await share(page, page.context(), "Capture · Raconte");
  await page.getByRole("button", { name: /^Take/ }).click();
  const timer = page.getByRole("timer");
  const plate = await timer.boundingBox();
  if (!plate) throw new Error("no countdown is shown");
  const [shot] = await arrived(page, 1);
  const k = (shot?.width ?? 0) / 1280;
  // Its plate is dark, and where it stood is none of that; the bar at the top, which is as dark, is there. The shot
  // shows the page within the page, smaller and earlier, and in those the countdown may stand: none covers all four
  // corners.
  const dark = async (x: number, y: number) => {
    const [r = 0, g = 0, b = 0] = await pixel(page, shot?.id ?? "", Math.round(x * k), Math.round(y * k));
    return Math.abs(r - 22) + Math.abs(g - 39) + Math.abs(b - 45) < 40;
  };
  expect(await dark(600, 6)).toBe(true);
  const [left, top, right, bottom] = [plate.x + 5, plate.y + 5, plate.x + plate.width - 5, plate.y + plate.height - 5];
  const corners = [dark(left, top), dark(right, top), dark(left, bottom), dark(right, bottom)];
  expect(await Promise.all(corners)).toContain(false);
});
