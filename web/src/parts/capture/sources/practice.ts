import type { Size } from "../../../base/core/core";
import { studio } from "../../../base/core/studio";
import type { Screen, Wish } from "../../../base/core/capture";
import type { Point } from "../../../base/core/core";
import type { Source, Told } from "./source";

const tick = 265; // milliseconds: half a blink of the caret

/** The practice workstation: a simulated computer that runs in the studio. */
export class Practice implements Source {
  readonly kind = "practice";
  readonly knows = { windows: true, elements: true, clicks: true, pointer: true };
  private timer: ReturnType<typeof setInterval>;
  private at: Point | undefined; // where the pointer is to go; moves that come too fast are left out
  private moving = false;
  private passing = false;
  /** What is taken before each click takes effect; undefined while clicks are not recorded. */
  record: Wish | undefined;

  private constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly told: Told,
  ) {
    this.timer = setInterval(() => {
      if (this.passing || document.hidden) return;
      this.passing = true;
      void studio("pass", { ms: tick }).finally(() => (this.passing = false));
    }, tick);
  }

  static async open(told: Told): Promise<Practice> {
    const canvas = document.createElement("canvas");
    const shown = canvas.transferControlToOffscreen();
    await studio("start", { now: localNow(), canvas: shown }, [shown]);
    return new Practice(canvas, told);
  }

  size(): Size {
    return { w: 3200, h: 1080 };
  }

  face() {
    return this.canvas;
  }

  screen(): Promise<Screen> {
    return studio("screen", {});
  }

  async move(at: Point) {
    this.at = at;
    if (this.moving) return;
    this.moving = true;
    while (this.at) {
      const to = this.at;
      this.at = undefined;
      await studio("move", { at: to });
    }
    this.moving = false;
  }

  async press(at: Point, kind: string) {
    const taken = await studio("press", { at, kind, record: this.record });
    taken.forEach((shot) => this.told.took(shot));
  }

  release() {
    return studio("release", {});
  }

  wheel(at: Point, by: number) {
    return studio("wheel", { at, by });
  }

  async key(key: string, at: Point) {
    const taken = await studio("key", { key, record: this.record && { ...this.record, at } });
    taken.forEach((shot) => this.told.took(shot));
  }

  /** Ends a recording of clicks with what was typed last. */
  async typed() {
    if (!this.record) return;
    const shot = await studio("typed", { wish: this.record });
    if (shot) this.told.took(shot);
  }

  take(wish: Wish) {
    return studio("take", { wish });
  }

  print() {
    return studio("print", {});
  }

  close() {
    clearInterval(this.timer);
  }
}

/** Now, as the clock of a computer in this place shows it. */
function localNow() {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString();
}
