import { everywhere, isSecret, rectOf } from "./element";
import type { FrameState } from "./types";

// A page's frames lie in each other, and a frame of another origin can't tell where it is. Each tells its parent a key;
// the parent knows which of its frames a message came from, and where that is.

const greeting = "raconte-recorder";
const top = globalThis.parent === globalThis.self;
export const key = top ? "" : crypto.randomUUID();
const known = new Map<MessageEventSource, string>();

/** Listens for the frames in this one, before the page does, which hears nothing of it. */
export function meetFrames(changed: () => void) {
  addEventListener(
    "message",
    (e) => {
      const said = (e.data as { [greeting]?: string } | null)?.[greeting];
      if (typeof said !== "string" || !e.source || said.length > 64) return;
      e.stopImmediatePropagation();
      known.set(e.source, said);
      changed();
    },
    true,
  );
}

/** Tells the parent who is in its frame. */
export function greet() {
  if (!top) globalThis.parent.postMessage({ [greeting]: key }, "*");
}

export function frameState(): FrameState {
  const state: FrameState = { key, secrets: [], frames: [], strangers: [] };
  for (const e of everywhere("input, iframe, frame")) {
    const rect = rectOf(e);
    if (e instanceof HTMLInputElement) {
      if (rect.w > 0 && isSecret(e)) state.secrets.push(rect);
      continue;
    }
    const frame = e as HTMLIFrameElement;
    rect.x += frame.clientLeft;
    rect.y += frame.clientTop;
    const its = frame.contentWindow && known.get(frame.contentWindow);
    if (its) state.frames.push({ key: its, rect });
    else if (rect.w > 0 && rect.h > 0) state.strangers.push(rect);
  }
  return state;
}
