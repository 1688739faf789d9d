import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Rect, type Taken } from "../../base/api/client";
import type { Size, View } from "../../base/core/core";
import type { Picture } from "../document/picture";
import { whenIdle } from "../../base/core/idle";
import type { StageCore } from "./core";
import { parsed } from "../../base/typed";

/** What is known of a shot's capture; undefined while it is on its way or where nothing is. */
export function useTaken(shot: string | undefined, picture: Picture | undefined): Taken | undefined {
  return useQuery({
    ...ask("/api/shots/{shot}/about", { path: { shot: shot ?? "" } }),
    enabled: shot !== undefined && picture?.progress === undefined && picture?.size !== undefined,
    staleTime: 60_000,
  }).data;
}

const widest = 1920; // pixels across that inks and edges are looked for in

/** Gives the stage the picture's pixels, when the browser has time, and the elements and words that are known of it. */
export function useGround(
  stage: StageCore | undefined,
  address: string | undefined,
  size: Size | undefined,
  taken: Taken | undefined,
  open: string,
  show: (view: View) => void,
) {
  const known = JSON.stringify({
    elements: (taken?.about.elements ?? []).map((e) => e.rect),
    words: taken?.words ?? [],
  });
  const w = size?.w;
  const h = size?.h;
  useEffect(() => {
    if (!stage || !address || !w || !h || !open) return;
    let gone = false;
    const look = async () => {
      const image = new Image();
      image.src = address;
      await image.decode();
      const scale = Math.min(1, widest / w);
      const canvas = new OffscreenCanvas(Math.max(1, Math.round(w * scale)), Math.max(1, Math.round(h * scale)));
      const on = canvas.getContext("2d", { willReadFrequently: true });
      if (gone || !on) return;
      on.drawImage(image, 0, 0, canvas.width, canvas.height);
      const pixels = on.getImageData(0, 0, canvas.width, canvas.height);
      show(stage.ground(pixels, canvas.width / w, parsed<{ elements: Rect[]; words: Rect[] }>(known)));
    };
    // Without the pixels inks stay as they are and nothing snaps to the picture: no reason to say so.
    const stop = whenIdle(() => void look().catch(() => undefined));
    return () => {
      gone = true;
      stop();
    };
  }, [stage, address, w, h, known, open, show]);
}
