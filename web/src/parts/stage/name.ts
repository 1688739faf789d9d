import type { Taken } from "../../base/api/client";
import { core } from "../../base/core/core";
import { settings } from "../shots/settings";

/** Names that say nothing: what browsers and cameras of screens call what was pasted. */
const nameless = /^(image|picture|shot|screenshot|clipboard|unbenannt|bild)?[\s_-]*\d*$/i;

/**
 * What files of a picture are called: of a run, by the words of its step; else as its file was, or by the pattern; n is
 * which picture it is.
 */
export function nameOf(file: string | undefined, taken: Taken | undefined, n: number, words: string): string {
  if (taken?.about.action && words) return core.safeName(words);
  const own = file?.replace(/\.[a-z0-9]{3,4}$/i, "") ?? "";
  if (!nameless.test(own)) return own;
  const at = taken?.about.taken ? new Date(taken.about.taken) : new Date();
  const local = new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString();
  const window = taken?.about.window?.title ?? "";
  return core.shotName({ pattern: settings().pattern, taken: local, window, session: "", n, used: [] });
}
