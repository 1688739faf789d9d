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

export const lengthOf = (runs: Run[]) => {
  const last = runs.at(-1);
  return last ? last.start + last.length : 0;
};

/** How long a finished clip is, in milliseconds. */
export const clipLength = (clip: Clip) => lengthOf(core.clipRuns(clip));
