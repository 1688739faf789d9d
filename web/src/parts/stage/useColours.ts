import { useCallback, useEffect, useState } from "react";
import type { Figure } from "../../base/api/client";
import { studio } from "../../base/core/studio";
import type { Pixels } from "./paint";

const most = 24;
const made = new Map<string, Promise<string>>();

/** The bitmap behind an address. */
async function bitmapOf(href: string) {
  const image = new Image();
  image.src = href;
  await image.decode();
  return createImageBitmap(image);
}

/** The address of a copy of a picture whose colours are as a figure has them. */
function recoloured(href: string, figure: Figure, width: number): Promise<string> {
  const covers = figure.marks.filter((m) => m.kind === "concealment" || m.kind === "patch");
  const now = { id: figure.id, shot: figure.shot, alt: "", marks: covers, recolours: figure.recolours ?? [] };
  const key = JSON.stringify([href, width, now.recolours, covers.map((m) => m.points)]);
  const kept = made.get(key);
  if (kept) return kept;
  const work = (async () => {
    const frame = await bitmapOf(href);
    const { blob } = await studio("recolour", { frame, figure: now, width }, [frame]);
    return URL.createObjectURL(blob);
  })();
  made.set(key, work);
  work.catch(() => made.delete(key)); // the next who asks tries again
  const [oldest] = made.keys();
  if (made.size > most && oldest !== undefined) {
    void made.get(oldest)?.then(URL.revokeObjectURL, () => undefined);
    made.delete(oldest);
  }
  return work;
}

/**
 * The pixels of a figure's shots, its own in the colours that the figure has. Until these are there it is seen as it
 * was.
 */
export function useColours(figure: Figure | undefined, pixels: Pixels): Pixels {
  const [ready, setReady] = useState<{ from: string; href: string }>();
  const some = (figure?.recolours?.length ?? 0) > 0;
  const { href, size } = figure ? pixels(figure.shot) : { href: "" };
  const width = size?.w ?? 0;
  useEffect(() => {
    if (!figure || !some || !width) return;
    let gone = false;
    recoloured(href, figure, width).then(
      (to) => !gone && setReady({ from: href, href: to }),
      () => undefined, // it is seen as it was; the file is made by the server
    );
    return () => {
      gone = true;
    };
  }, [figure, some, href, width]);
  const now = some && ready?.from === href ? ready.href : href;
  const shot = figure?.shot;
  return useCallback((of: string) => (of === shot ? { ...pixels(of), href: now } : pixels(of)), [pixels, shot, now]);
}

/** The colour of one pixel of a picture, "#rrggbb". */
export async function colourAt(href: string, x: number, y: number): Promise<string> {
  const bitmap = await bitmapOf(href);
  const on = new OffscreenCanvas(1, 1).getContext("2d");
  on?.drawImage(bitmap, -Math.floor(x), -Math.floor(y));
  bitmap.close();
  const data = on?.getImageData(0, 0, 1, 1).data ?? [0, 0, 0];
  return `#${[...data.slice(0, 3)].map((v) => v.toString(16).padStart(2, "0")).join("")}`;
}
