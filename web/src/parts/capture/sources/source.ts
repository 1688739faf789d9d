import type { Size } from "../../../base/core/core";
import type { Captured } from "../../../base/core/studio";
import type { Screen, Wish } from "../../../base/core/capture";

/** What a source tells while it is open. */
export type Told = {
  /** It took something by itself, as on a click. */
  took: (shot: Captured) => void;
  /** It shows something of another size now. */
  resized: (size: Size) => void;
  /** It sends nothing for now, and why; "" when it does again. */
  still: (why: string) => void;
  /** It ended without being asked to; what was taken is kept. */
  ended: (why: string) => void;
};

/**
 * A source is something live that shots are taken from. It is opened once for a session, gives a picture whenever it
 * is asked, and tells what it knows of the screen. proof/e2e/tests/sources.spec.ts holds every source to this.
 */
export interface Source {
  readonly kind: "screen" | "practice";
  /** Whether it knows windows and elements, tells of clicks, and knows the pointer apart from the picture. */
  readonly knows: { windows: boolean; elements: boolean; clicks: boolean; pointer: boolean };
  size(): Size;
  screen(): Promise<Screen>;
  /**
   * What is seen when it is called, or after since (performance.now); never what was seen before, though the source
   * lags behind.
   */
  take(wish: Wish, since?: number): Promise<Captured>;
  /** Something that changes when what is seen does, but for the noise of video, the pointer and the caret. */
  print(): Promise<number | string>;
  /** What the live picture is drawn on: something that a canvas can copy. */
  face(): HTMLVideoElement | HTMLCanvasElement;
  close(): void;
}
