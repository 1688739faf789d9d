import type { Rect } from "./types";

export type Picture = { blob: Blob; w: number; h: number };

/** Takes the picture of what a window shows, as soon as it is called. */
export async function look(window: number): Promise<ImageBitmap> {
  const url = await captured(window);
  return createImageBitmap(await (await fetch(url)).blob());
}

/**
 * A page that is just beginning has no picture yet, and what is seen without a person's press may be asked for twice a
 * second only: it waits for its turn.
 */
async function captured(window: number): Promise<string> {
  for (let tries = 0; ; tries++) {
    try {
      return await chrome.tabs.captureVisibleTab(window, { format: "png" });
    } catch (e) {
      if (tries === 6) throw e;
      await new Promise((r) => setTimeout(r, /PER_SECOND/.test((e as Error).message) ? 350 : 120));
    }
  }
}

/** Makes the file of a picture; what is secret is painted over before. Rectangles are in pixels of the picture. */
export async function develop(seen: ImageBitmap, secrets: Rect[] | undefined): Promise<Picture> {
  const { width: w, height: h } = seen;
  const canvas = new OffscreenCanvas(w, h);
  const pen = canvas.getContext("2d") as OffscreenCanvasRenderingContext2D;
  pen.drawImage(seen, 0, 0);
  pen.fillStyle = "#6b7780";
  for (const r of secrets ?? [{ x: 0, y: 0, w, h }]) {
    const [x, y] = [Math.floor(r.x), Math.floor(r.y)];
    pen.fillRect(x, y, Math.ceil(r.x + r.w) - x, Math.ceil(r.y + r.h) - y);
  }
  return { blob: await canvas.convertToBlob({ type: "image/png" }), w, h };
}
