import { core } from "../../../base/core/core";
import type { Size } from "../../../base/core/core";
import { type Frame, sizeOf } from "../../../base/core/frame";
import { studio } from "../../../base/core/studio";
import type { Rect } from "../../../base/api/client";
import type { Screen, Wish } from "../../../base/core/capture";
import type { Source, Told } from "./source";
import { sure } from "../../../base/typed";

const patience = 60_000; // a browser that can't share never answers
const lateWait = 500; // milliseconds: the browser's capture lags behind what it shows, more where the machine is busy
const hidden = "The shared window is hidden or minimised, so it sends no picture. It goes on when it is shown again.";

const noScreen = "Nothing is shared: this browser finds no screen or window to share. Paste a picture instead.";
const refused = "Nothing is shared: it was not allowed or you cancelled.";

/** What a browser says of a screen it does not share, in words for people, by the names of W3C Screen Capture. */
const refusals: Record<string, string> = {
  NotFoundError: noScreen,
  OverconstrainedError: noScreen, // WebKit's word for it
  NotReadableError:
    "Nothing is shared: the system does not let this browser see the screen. Allow it there and try again.",
  InvalidStateError: "Nothing is shared: the browser wants a click first. Press “Share a screen” again.",
};

/** The screen, window or tab that a person shares through the browser. Frames are taken when they are asked for. */
export class SharedScreen implements Source {
  readonly kind = "screen";
  readonly knows = { windows: false, elements: false, clicks: false, pointer: false };
  private guessed: Rect[] = [];
  private closed = false;

  private constructor(
    private readonly stream: MediaStream,
    private readonly video: HTMLVideoElement,
    told: Told,
  ) {
    const track = this.shared();
    let last = this.size();
    track.addEventListener("ended", () => {
      if (!this.closed) told.ended("Sharing has stopped. Everything taken so far is kept.");
    });
    track.addEventListener("mute", () => void (this.closed || told.still(hidden)));
    track.addEventListener("unmute", () => void (this.closed || told.still("")));
    video.addEventListener("resize", () => {
      const now = this.size();
      if (!this.closed && now.w > 0 && (now.w !== last.w || now.h !== last.h)) {
        last = now;
        this.guessed = [];
        told.resized(now);
      }
    });
  }

  /** Asks the person what to share. */
  static async open(told: Told): Promise<SharedScreen> {
    if (!("mediaDevices" in navigator) || !("getDisplayMedia" in navigator.mediaDevices)) {
      throw new Error(
        "This browser can’t share a screen. Use its own key for a picture of the screen and paste it here.",
      );
    }
    const asked = navigator.mediaDevices.getDisplayMedia({
      video: {
        frameRate: { ideal: 15 },
        width: { ideal: 7680 },
        height: { ideal: 4320 },
        cursor: "never",
      },
      audio: false,
      selfBrowserSurface: "include",
      surfaceSwitching: "include",
      monitorTypeSurfaces: "include",
    });
    const late = new Promise<never>((_, reject) =>
      setTimeout(() => reject(new Error("The browser gave no screen to share. Try again.")), patience),
    );
    let stream: MediaStream;
    try {
      stream = await Promise.race([asked, late]);
    } catch (e) {
      // What is chosen later is not shared: nothing would say so, nor end it.
      void asked.then(
        (chosen) => chosen.getTracks().forEach((t) => t.stop()),
        () => undefined,
      );
      const name = e instanceof Error ? e.name : ""; // ours is called "Error", a browser's by its reason
      throw name === "Error" ? e : new Error(refusals[name] ?? refused);
    }
    const video = document.createElement("video");
    video.muted = true;
    video.playsInline = true;
    video.srcObject = stream;
    await video.play();
    if (video.videoWidth === 0)
      await new Promise((resolve) => video.addEventListener("resize", resolve, { once: true }));
    return new SharedScreen(stream, video, told);
  }

  size(): Size {
    return { w: this.video.videoWidth, h: this.video.videoHeight };
  }

  private readonly seen = document.createElement("video");

  /**
   * What is looked at is a video of its own: browsers pause one that leaves the page, which would give old pictures.
   */
  face() {
    if (this.seen.srcObject !== this.stream) {
      this.seen.muted = true;
      this.seen.srcObject = this.stream;
    }
    void this.seen.play().catch(() => undefined); // another look at it has begun meanwhile
    return this.seen;
  }

  private shared = () => sure(this.stream.getVideoTracks()[0]);

  async screen(): Promise<Screen> {
    const { w, h } = this.size();
    return {
      w,
      h,
      monitors: [{ id: "", rect: { x: 0, y: 0, w, h }, scale: 1 }],
      // Smaller ones lie before larger ones, so that a dialog can be picked from the window behind it.
      windows: [...this.guessed].reverse().map((rect) => ({ title: "", rect })),
      elements: [],
    };
  }

  /** Guesses windows from the straight edges in the picture, since the browser does not tell them. */
  async guess(): Promise<Rect[]> {
    const frame = await this.frame();
    this.guessed = await studio("windows", { frame }, [frame]);
    return this.guessed;
  }

  /**
   * A frame that was captured after a moment. The source is asked for one, since what stands still sends none; where
   * none comes in time, what is shown is what is there.
   */
  private async frame(since = performance.now()): Promise<Frame> {
    if (this.closed || this.size().w === 0)
      throw new Error("Nothing is shared any more. Share a screen again to go on.");
    if (this.shared().muted) throw new Error(hidden);
    if (this.video.paused) await this.video.play();
    const asked = this.ask();
    if (await this.shows(since)) {
      void asked.then((frame) => frame?.close());
      return this.shown();
    }
    return (await asked) ?? this.shown();
  }

  /** Has the source send a frame, as far as the browser can; also where the page is hidden and paints nothing. */
  private ask(): Promise<ImageBitmap | undefined> {
    if (!("ImageCapture" in globalThis)) return Promise.resolve(undefined);
    const capture = new ImageCapture(this.shared());
    const frame = capture.grabFrame().catch(() => undefined);
    return Promise.race([frame, new Promise<undefined>((resolve) => setTimeout(resolve, 2 * lateWait))]);
  }

  /** Whether the video shows within a while what was captured after a moment. */
  private shows(since: number): Promise<boolean> {
    if (document.visibilityState === "hidden") return Promise.resolve(false);
    return new Promise((resolve) => {
      const timer = setTimeout(() => resolve(false), lateWait);
      const next = () =>
        this.video.requestVideoFrameCallback((_, { captureTime, presentationTime }) => {
          if ((captureTime ?? presentationTime) < since) return void next();
          clearTimeout(timer);
          resolve(true);
        });
      next();
    });
  }

  /** What the video shows. A video frame is only handed on: its pixels are made in the studio, not on the page. */
  private async shown(): Promise<Frame> {
    return "VideoFrame" in globalThis ? new VideoFrame(this.video) : createImageBitmap(this.video);
  }

  /** What is shared, to be recorded: with the pointer or without, as far as the browser can. */
  async track(pointer: boolean): Promise<MediaStreamTrack> {
    const track = this.shared();
    await track.applyConstraints({ cursor: pointer ? "always" : "never" }).catch(() => undefined);
    return track.clone();
  }

  async take(wish: Wish, since?: number) {
    const frame = await this.frame(since);
    const screen = { ...(await this.screen()), ...sizeOf(frame) };
    const cut = core.cut(screen, { ...wish, pointer: "out" });
    cut.about = { ...cut.about, taken: new Date().toISOString(), source: "screen" };
    const picture = await studio("cut", { frame, cut }, [frame]);
    return { ...picture, cut };
  }

  /** A part of a page that is stitched later. */
  async part(rect: Rect): Promise<number> {
    const frame = await this.frame();
    return studio("part", { frame, rect }, [frame]);
  }

  async print() {
    const frame = await (document.visibilityState === "hidden" ? this.frame() : this.shown());
    return studio("printFrame", { frame }, [frame]);
  }

  close() {
    this.closed = true;
    this.stream.getTracks().forEach((t) => t.stop());
    this.video.srcObject = this.seen.srcObject = null;
  }
}
