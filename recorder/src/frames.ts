import { everywhere, isSecret, rectOf } from "./element";
import type { FrameState } from "./types";

// A page's frames lie in each other, and a frame of another origin can't tell where it is. Each tells its parent a key;
// the parent knows which of its frames a message came from, and where that is.

const greeting = "raconte-recorder";
const top = globalThis.parent === globalThis.self;
export const key = top ? "" : crypto.randomUUID();
const id = crypto.randomUUID(); // of this document
const known = new Map<MessageEventSource, string>();

/** Listens for the frames in this one, before the page does, which hears nothing of it. */
export function meetFrames(changed: () => void) {
  addEventListener(
    "message",
    (e) => {
      const said = (e.data as { [greeting]?: string } | null)?.[greeting];
      if (typeof said !== "string" || !e.source || said.length > 64) return;
      e.stopImmediatePropagation();
      if (said === question) {
        if (e.source === globalThis.parent) greet();
        return;
      }
      known.set(e.source, said);
      changed();
    },
    true,
  );
  // Another document in a frame is a stranger until it has told; nobody may be there who would.
  addEventListener(
    "load",
    (e) => {
      const frame = e.target;
      if (!(frame instanceof HTMLIFrameElement || frame instanceof HTMLFrameElement)) return;
      if (frame.contentWindow) known.delete(frame.contentWindow);
      ask(frame);
      changed();
    },
    true,
  );
}

const question = "?"; // of a parent: who are you?

function ask(frame: HTMLIFrameElement | HTMLFrameElement) {
  frame.contentWindow?.postMessage({ [greeting]: question }, "*");
}

/** Asks all frames in this one who they are; those that know of the recorder answer. */
export function askFrames() {
  for (const e of everywhere("iframe, frame")) ask(e as HTMLIFrameElement);
}

/** Tells the parent who is in its frame. */
export function greet() {
  if (!top) globalThis.parent.postMessage({ [greeting]: key }, "*");
}

export function frameState(): FrameState {
  const state: FrameState = { key, document: id, secrets: [], frames: [], strangers: [] };
  for (const e of everywhere("input, iframe, frame, object, embed, fencedframe")) {
    const rect = rectOf(e);
    if (e instanceof HTMLInputElement) {
      if (rect.w > 0 && isSecret(e)) state.secrets.push(rect);
      continue;
    }
    if (!e.matches("iframe, frame")) {
      if (rect.w > 0 && rect.h > 0) state.strangers.push(rect);
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
