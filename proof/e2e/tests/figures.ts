import { expect, type Page } from "@playwright/test";
import { makeDocument, onServer, openManuscript, png, saved, signIn, type StepSpec } from "./support";

export type Figure = Awaited<ReturnType<typeof onServer>>["blocks"][number]["content"]["figures"][number];

/** A screen with things on it that can be told apart; at says where they lie. */
export const screen = (dx = 0, dy = 0) =>
  png(1200, 700, (x, y) => {
    const [u, v] = [x - 300 - dx, y - 200 - dy];
    if (u >= 0 && u < 180 && v >= 0 && v < 60) {
      if (u < 3 || v < 3 || u > 176 || v > 56) return [40, 90, 110];
      return (u * 7 + v * 3) % 23 < 8 && v > 15 && v < 45 && u > 20 && u < 150 ? [30, 40, 50] : [250, 250, 250];
    }
    return v < -100 ? [40, 100, 90] : [240, 243, 242];
  });

/** Makes a document and opens its first picture. */
export async function openPicture(page: Page, title: string, steps: StepSpec[]) {
  await signIn(page);
  const made = await makeDocument(page.request, title, steps);
  await openManuscript(page, made.id);
  await page.getByRole("button", { name: "Mark the picture of step 1" }).click();
  await expect(page.getByRole("application")).toBeVisible();
  return made.id;
}

/** The first figure of a step, as it is on the server. */
export const figureOf = async (page: Page, id: string, step = 0): Promise<Figure> => {
  await saved(page);
  const figure = (await onServer(page, id)).blocks[step]?.content.figures[0];
  if (!figure) throw new Error("no picture");
  return figure;
};
