import type { Clip, Recording } from "../../base/api/client";
import { lastForm } from "./make";
import { core, type Run } from "../../base/core/core";

/** How a recording is shown to begin with: all of it, in the form that was chosen last. */
export const clipOf = (r: Recording): Clip => ({
  ms: r.ms,
  poster: r.poster,
  ...(r.sounds && { sounds: true }),
  ...(r.camera && { camera: { x: 0.77, y: 0.72, w: 0.2 } }),
  ...(lastForm() && { form: lastForm() }),
});

/** A time as people read and type it: 0:04.2. */
export function sayMs(ms: number, exact = false) {
  const s = Math.max(0, ms) / 1000;
  const minutes = Math.floor(s / 60);
  const rest = exact ? (s % 60).toFixed(2).padStart(5, "0") : String(Math.floor(s % 60)).padStart(2, "0");
  return `${minutes}:${rest}`;
}

/** What was typed as a time: seconds, or minutes and seconds; undefined where it is none. */
export function readMs(text: string): number | undefined {
  const found = /^(?:(\d{1,2}):)?(\d{1,4}(?:[.,]\d{1,3})?)$/.exec(text.trim());
  if (!found) return undefined;
  return Math.round(Number(found[1] ?? 0) * 60_000 + Number((found[2] ?? "").replace(",", ".")) * 1000);
}

export const lengthOf = (runs: Run[]) => {
  const last = runs.at(-1);
  return last ? last.start + last.length : 0;
};

/** How long a finished clip is, in milliseconds. */
export const clipLength = (clip: Clip) => lengthOf(core.clipRuns(clip));
