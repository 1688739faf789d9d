import { Layout } from "./layout";
import type { FrameState } from "./types";

// The layouts of tabs. A background script may be ended and begun again between any two events: they are kept.

const layouts = new Map<number, Layout>();

/** Reads what was kept before the background began again, and asks the pages, which may be others by now. */
export async function readLayouts() {
  const all = await chrome.storage.session.get<Record<string, [number, FrameState][]>>(null);
  for (const [name, frames] of Object.entries(all)) {
    const tab = Number(/^layout (\d+)$/.exec(name)?.[1]);
    if (!tab) continue;
    layouts.set(tab, new Layout(frames));
    askAgain(tab);
  }
}

export function layoutOf(tab: number): Layout {
  let its = layouts.get(tab);
  if (!its) layouts.set(tab, (its = new Layout()));
  return its;
}

export function frameTold(tab: number, frame: number, state: FrameState) {
  const its = layoutOf(tab);
  if (its.told(frame, state)) askAgain(tab);
  void chrome.storage.session.set({ [`layout ${tab}`]: its.kept });
}

/** The tab begins another page, or another state of the same. */
export function moves(tab: number) {
  if (!layouts.has(tab)) return;
  layoutOf(tab).doubt();
  askAgain(tab);
}

export function forgets(tab: number) {
  layouts.delete(tab);
  void chrome.storage.session.remove(`layout ${tab}`);
}

/** Every frame of a tab is to tell of itself again. */
const askAgain = (tab: number) => void chrome.tabs.sendMessage(tab, { tell: true }).catch(() => undefined);

export const secretsOf = (tab: number) => layoutOf(tab).secrets();
export const offsetOf = (tab: number, key: string) => layoutOf(tab).offsetOf(key);
