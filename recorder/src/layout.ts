import type { FrameState, Rect } from "./types";

/**
 * What the frames of a tab told of themselves: where they lie, and what must not be seen. What is not known is covered:
 * a frame that has not told, and all of a page whose own document has not.
 */
export class Layout {
  private frames = new Map<number, FrameState>();
  private doubted = false;

  constructor(kept?: [number, FrameState][]) {
    this.frames = new Map(kept);
  }

  get kept() {
    return [...this.frames];
  }

  /**
   * A frame tells. Another document in the page itself makes all that was known of the one before void: answers true.
   */
  told(frame: number, state: FrameState): boolean {
    const fresh = state.key === "" && this.top?.document !== state.document;
    if (fresh) this.frames.clear();
    if (state.key === "") this.doubted = false;
    this.frames.set(frame, state);
    return fresh;
  }

  /** The page may be another by now; until it tells, nothing of it is known. */
  doubt() {
    this.doubted = true;
  }

  private get top() {
    return [...this.frames.values()].find((f) => f.key === "");
  }

  /** Where a frame begins in the picture of the page, in CSS pixels; undefined where no other frame has told. */
  offsetOf(key: string, deep = 0): { x: number; y: number } | undefined {
    if (key === "") return { x: 0, y: 0 };
    if (deep > 50) return undefined;
    for (const parent of this.frames.values()) {
      const seat = parent.key !== key && parent.frames.find((f) => f.key === key);
      const before = seat && this.offsetOf(parent.key, deep + 1);
      if (seat && before) return { x: before.x + seat.rect.x, y: before.y + seat.rect.y };
    }
    return undefined;
  }

  /** Everything on the page that must not be seen, in CSS pixels of the page; undefined: the whole page. */
  secrets(): Rect[] | undefined {
    if (!this.top || this.doubted) return undefined;
    const known = new Set([...this.frames.values()].map((f) => f.key));
    const all: Rect[] = [];
    for (const frame of this.frames.values()) {
      const at = this.offsetOf(frame.key);
      if (!at) continue; // it is gone, or lies in a frame that is covered whole
      const silent = frame.frames.filter((f) => !known.has(f.key)).map((f) => f.rect);
      for (const r of [...frame.secrets, ...frame.strangers, ...silent])
        all.push({ ...r, x: r.x + at.x, y: r.y + at.y });
    }
    return all;
  }
}
