import type { FrameState, Rect } from "./types";

const pages = new Map<number, Map<number, FrameState>>(); // what each frame of a tab told last

export function told(tab: number, frame: number, state: FrameState) {
  const frames = pages.get(tab) ?? new Map<number, FrameState>();
  pages.set(tab, frames.set(frame, state));
}

export const forgets = (tab: number) => pages.delete(tab);

/** Where a frame begins in the picture of the page, in CSS pixels; undefined where no other frame has told. */
export function offsetOf(tab: number, key: string): { x: number; y: number } | undefined {
  if (key === "") return { x: 0, y: 0 };
  for (const parent of pages.get(tab)?.values() ?? []) {
    const seat = parent.key !== key && parent.frames.find((f) => f.key === key);
    const before = seat && offsetOf(tab, parent.key);
    if (seat && before) return { x: before.x + seat.rect.x, y: before.y + seat.rect.y };
  }
  return undefined;
}

/**
 * Everything on the page that must not be seen, in CSS pixels of the page. Where a frame holds a secret and nobody can
 * tell where it lies, all that it may be is covered; undefined: the whole page.
 */
export function secretsOf(tab: number): Rect[] | undefined {
  const all: Rect[] = [];
  for (const frame of pages.get(tab)?.values() ?? []) {
    if (frame.secrets.length === 0) continue;
    const at = offsetOf(tab, frame.key);
    if (at) {
      all.push(...frame.secrets.map((r) => ({ ...r, x: r.x + at.x, y: r.y + at.y })));
      continue;
    }
    const strangers = [...(pages.get(tab)?.values() ?? [])].flatMap((f) => {
      const its = offsetOf(tab, f.key);
      return its ? f.strangers.map((r) => ({ ...r, x: r.x + its.x, y: r.y + its.y })) : [];
    });
    if (strangers.length === 0) return undefined;
    all.push(...strangers);
  }
  return all;
}
