import { Store } from "../../base/store";
import { core, CoreError } from "../../base/core/core";
import { Practice } from "./sources/practice";
import { SharedScreen } from "./sources/screen";
import type { Source, Told } from "./sources/source";
import { afterOf } from "./after";
import { filming } from "./filming";
import { type After, change, settings } from "../shots/settings";
import { type Item, shots } from "../shots/shots";
import { type Captured, studio } from "../../base/core/studio";
import { everyNow } from "./ticks";
import type { Rect } from "../../base/api/client";
import type { Wish } from "../../base/core/capture";
import type { Point } from "../../base/core/core";
import { sure } from "../../base/typed";

const sample = 250; // milliseconds between looks for a change

/** What is picked on the live picture before it is taken. */
export type Picking = "region" | "outline" | "page";

/**
 * The recorder takes shots from the open source, at the moment and of the part that the person chose. It lives as long
 * as the page does, so that a shared screen stays shared while the contact sheet is looked at.
 */
class Recorder extends Store {
  source: Source | undefined;
  /** The pointer on the live picture: it chooses the monitor, window or element. */
  at: Point = { x: 0, y: 0 };
  picking: Picking | undefined;
  paused = false;
  countdown: number | undefined;
  /** The monitor that is shown; undefined shows everything. */
  monitor: string | undefined;
  /** Parts of a page that were taken so far; 0 while none is taken. */
  parts = 0;
  /** What to tell the person now. */
  said: { text: string; bad: boolean } | undefined;
  /** Told of every shot that was taken. */
  onTook: ((item: Item, after: After | undefined) => void) | undefined;
  /** Whether the next shot is only kept. */
  plain = false;

  private watching: (() => void) | undefined;
  private looking = false;
  private counting: ReturnType<typeof setInterval> | undefined;
  private queue: Promise<unknown> = Promise.resolve();

  say(text: string, bad = false) {
    if (!text && !this.said) return;
    this.said = text ? { text, bad } : undefined;
    this.tell();
  }

  private readonly tells: Told = {
    took: (shot) => void this.keep(shot),
    resized: ({ w, h }) =>
      this.say(`What is shared is ${w} × ${h} pixels now. Everything taken is kept; “Same area” is fitted to it.`),
    still: (why) => this.say(why, why !== ""),
    ended: (why) => {
      this.stop();
      this.say(`${why} Share a screen again to go on in the same session.`, true);
    },
  };

  async open(kind: Source["kind"]) {
    this.stop();
    this.say("");
    try {
      this.source = kind === "screen" ? await SharedScreen.open(this.tells) : await Practice.open(this.tells);
      const screen = await this.source.screen();
      this.monitor = screen.monitors.length > 1 ? screen.monitors[0]?.id : undefined;
      const { w, h } = screen.monitors[0]?.rect ?? this.source.size();
      this.at = { x: w / 2, y: h / 2 };
    } catch (e) {
      this.say(reason(e), true);
    }
    this.follow();
  }

  /** Ends the source; what was taken is kept. */
  stop() {
    void filming.stop();
    this.cancel();
    this.source?.close();
    this.source = undefined;
    if (this.parts > 0) void studio("forget", {});
    this.parts = 0;
    this.paused = false;
    this.follow();
  }

  /** Other choices were made: what was said of those before is over. */
  chosen() {
    this.goesOn();
    this.follow();
  }

  /** Follows the choice of when: clicks, or changes of the screen. */
  follow() {
    const { when, quiet } = settings();
    this.watching?.();
    this.watching = undefined;
    const source = this.source;
    if (source instanceof Practice) {
      const record = when === "click" && !this.paused ? this.wish() : undefined;
      if (!record && source.record) void source.typed();
      source.record = record && { ...record, what: byPointer(record) };
    }
    if (source && when === "settled" && !this.paused) {
      void studio("watch", { quiet: quiet * 1000 });
      void this.look(source); // at once: what happens next is a change of what is seen now
      this.watching = everyNow(sample, () => void this.look(source));
    }
    this.tell();
  }

  private async look(source: Source) {
    if (this.looking) return;
    this.looking = true;
    try {
      if (await studio("look", { print: await source.print() })) await this.shoot(this.wish());
    } catch {
      // The source is ending; it will say so itself.
    } finally {
      this.looking = false;
    }
  }

  pause() {
    this.goesOn();
    this.paused = !this.paused;
    this.follow();
  }

  private wish(): Wish {
    const s = settings();
    return { what: s.what, at: this.at, share: s.share, shadow: s.shadow, pointer: s.pointer };
  }

  /** What was said was about what was done before. */
  private goesOn() {
    this.said = undefined;
  }

  /** Takes what the settings say, when they say it. */
  async take() {
    const { what, when, delay } = settings();
    if (!this.source || this.countdown !== undefined) return;
    this.goesOn();
    if (
      what === "region" ||
      what === "outline" ||
      (what === "page" && this.source.kind === "screen" && this.parts === 0)
    ) {
      this.picking = what;
      this.tell();
      return;
    }
    if (what === "page" && this.source instanceof SharedScreen) return this.part(this.source);
    if (when === "delay") return this.later(delay);
    await this.shoot(this.wish());
  }

  /** Takes the same area again, where it lies now. */
  async again() {
    const source = this.source;
    const kept = settings().region;
    if (!source) return;
    if (!kept) {
      this.say("There is no area yet. Take a region first; then this takes the same one again.", true);
      return;
    }
    this.goesOn();
    const { rect, note } = core.again(await source.screen(), kept);
    await this.shoot({ ...this.wish(), what: "region", region: rect }, note);
  }

  /** A region or outline was picked on the live picture. */
  async picked(area: { region?: Rect; outline?: Point[] }) {
    const what = this.picking;
    const source = this.source;
    this.picking = undefined;
    this.tell();
    if (!what || !source) return;
    if (this.filmNext) {
      this.filmNext = false;
      const region = area.region ?? { x: 0, y: 0, ...source.size() };
      const kept = core.cut(await source.screen(), { ...this.wish(), what: "region", region, pointer: "out" }).kept;
      if (kept) change({ region: kept });
      return this.count(settings().film.countdown, () => filming.begin(source, region));
    }
    if (what === "page" && source instanceof SharedScreen && area.region) {
      this.pageArea = area.region;
      await this.part(source);
      return;
    }
    const wish = { ...this.wish(), what, ...area };
    if (settings().when === "delay") this.later(settings().delay, wish);
    else await this.shoot(wish);
  }

  /** The part of the live picture that is shown. */
  async view(): Promise<Rect> {
    const { w, h } = this.source?.size() ?? { w: 1, h: 1 };
    const screen = await this.source?.screen();
    return screen?.monitors.find((m) => m.id === this.monitor)?.rect ?? { x: 0, y: 0, w, h };
  }

  show(monitor: string | undefined) {
    this.monitor = monitor;
    this.tell();
  }

  cancel() {
    clearInterval(this.counting);
    this.countdown = undefined;
    this.picking = undefined;
    this.filmNext = false;
    this.tell();
  }

  private later(seconds: number, wish?: Wish, then?: () => Promise<void>) {
    this.countdown = seconds;
    this.said = undefined;
    this.tell();
    const due = Date.now() + seconds * 1000; // a tab that is covered has few ticks
    this.counting = setInterval(() => {
      this.countdown = Math.ceil((due - Date.now()) / 1000);
      if (this.countdown > 0) {
        this.tell();
        return;
      }
      clearInterval(this.counting);
      this.countdown = undefined;
      this.tell();
      void painted().then((since) => (then ? then() : this.shoot(wish ?? this.wish(), "", since)));
    }, 1000);
  }

  private pageArea: Rect | undefined;

  /** Takes the next part of a page that the person scrolls. */
  private async part(source: SharedScreen) {
    if (!this.pageArea) return;
    this.parts = await source.part(this.pageArea);
    this.say(
      `${this.parts === 1 ? "1 part" : `${this.parts} parts`} taken. Scroll on by less than a screen and take the next; then join them.`,
    );
  }

  /** Joins the parts of a page. */
  async join() {
    try {
      const picture = await studio("stitch", {});
      const rect = sure(this.pageArea);
      await this.keep({ ...picture, cut: { rect, about: { taken: new Date().toISOString(), source: "screen" } } });
      this.say("");
    } catch (e) {
      this.say(`The parts could not be joined: ${reason(e)}.`, true);
    }
    this.parts = 0;
    this.pageArea = undefined;
    this.tell();
  }

  /** Takes one shot; many asked for at once are taken one after the other. */
  private shoot(wish: Wish, note = "", since?: number): Promise<void> {
    const work = async () => {
      if (!this.source) return;
      try {
        const shot = await this.source.take(wish, since);
        if (note) shot.cut.about = { ...shot.cut.about, note };
        this.say(note);
        await this.keep(shot);
      } catch (e) {
        this.say(sentence(reason(e)), true);
      }
    };
    const done = this.queue.then(work, work);
    this.queue = done;
    return done;
  }

  private async keep({ blob, thumb, width, height, cut }: Captured) {
    if (cut.kept) change({ region: cut.kept });
    const about = { ...cut.about, taken: new Date().toISOString() };
    const item = await shots.add({ blob, thumb, width, height, about });
    await this.then({ ...item, blob }, afterOf(settings(), this.source?.kind));
  }

  /** Does what is done after a shot, where shots are taken. */
  async then(item: Item, after: After) {
    if (!this.onTook) return;
    const { blob } = item;
    const plain = this.plain;
    this.plain = false;
    if (after.copy && blob && !plain) {
      await navigator.clipboard
        .write([new ClipboardItem({ "image/png": blob })])
        .catch(() => this.say("The shot is kept, but the browser did not let it be copied.", true));
    }
    this.onTook(item, plain ? undefined : after);
    if (plain) this.tell();
  }

  /** Begins a recording of what the choice of "what" means now, or ends the one under way. */
  async film(again = false) {
    const source = this.source;
    if (!source) return;
    if (filming.state !== "off") return filming.stop();
    const { what, film } = settings();
    if (again) {
      const kept = settings().region;
      if (!kept)
        return this.say("There is no area yet. Record a region first; then this records the same one again.", true);
      return this.count(film.countdown, async () =>
        filming.begin(source, core.again(await source.screen(), kept).rect),
      );
    }
    if (what === "region" || what === "outline") {
      this.picking = "region";
      this.filmNext = true;
      this.said = undefined;
      return this.tell();
    }
    const part = what === "everything" ? undefined : await this.area(source);
    this.count(film.countdown, () => filming.begin(source, part));
  }

  /** A recording has come to be. */
  filmed(item: Item) {
    const after = afterOf(settings(), this.source?.kind);
    this.onTook?.(item, { ...after, copy: false, save: false });
  }

  private filmNext = false;

  private async area(source: Source): Promise<Rect | undefined> {
    const { what } = settings();
    const wish = { ...this.wish(), what: what === "page" || what === "band" || what === "element" ? "window" : what };
    try {
      return core.cut(await source.screen(), { ...wish, shadow: false, pointer: "out" }).rect;
    } catch {
      return undefined; // no window is known there: all of it
    }
  }

  private count(seconds: number, then: () => Promise<void>) {
    if (seconds > 0) this.later(seconds, undefined, then);
    else void then();
  }

  /** The next shot is only kept, whatever is usually done after one. */
  keepNext() {
    this.plain = !this.plain;
    this.tell();
  }
}

/** What can be taken with each click: areas that are picked by hand become the window. */
const byPointer = (wish: Wish): Wish["what"] =>
  ["region", "outline", "page"].includes(wish.what) ? "window" : wish.what;

/**
 * The countdown itself is never in the shot: a page that is seen has painted itself without it before the picture is
 * taken. One that is hidden or covered, as when another window is to be shown, paints nothing and is not waited for.
 */
const shownAfter = 150; // milliseconds from painting until it is on the screen, on a busy machine
const painted = () =>
  Promise.race([
    new Promise<number>((resolve) =>
      requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() + shownAfter))),
    ),
    new Promise<undefined>((resolve) => setTimeout(resolve, document.visibilityState === "hidden" ? 0 : 400)),
  ]);

const reason = (e: unknown) => (e instanceof CoreError ? e.reason : e instanceof Error ? e.message : String(e));

const sentence = (s: string) => `${s.charAt(0).toUpperCase()}${s.slice(1)}${/[.!?]$/.test(s) ? "" : "."}`;

export const recorder = new Recorder();
