import { core } from "../../core/core";
import type { Size } from "../../core/core";
import { type Frame, sizeOf } from "../frame";
import { studio } from "../studio";
import type { Rect } from "../../api/client";
import type { Screen, Wish } from "../../core/capture";
import type { Source, Told } from "./source";

const patience = 60_000; // a browser that can't share never answers
const frameWait = 50; // milliseconds: what stands still gives no new frame, and the last one is it
const lateWait = 500; // milliseconds: the browser's capture lags behind what it shows, more where the machine is busy

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
    const track = stream.getVideoTracks()[0] as MediaStreamTrack;
    let last = this.size();
    track.addEventListener("ended", () => {
      if (!this.closed) told.ended("Sharing has stopped. Everything taken so far is kept.");
    });
    track.addEventListener("mute", () => {
      if (!this.closed) told.ended("The shared window is hidden or minimised, so it sends no picture.");
    });
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
      } as MediaTrackConstraints,
      audio: false,
      selfBrowserSurface: "include",
      surfaceSwitching: "include",
      monitorTypeSurfaces: "include",
    } as DisplayMediaStreamOptions);
    const late = new Promise<never>((_, reject) =>
      setTimeout(() => reject(new Error("The browser gave no screen to share. Try again.")), patience),
    );
    let stream: MediaStream;
    try {
      stream = await Promise.race([asked, late]);
    } catch (e) {
      const { name } = e as Error; // ours is called "Error", a browser's by its reason
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

  face() {
    return this.video;
  }

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
   * The newest frame; on a still page that is the one before. Since: one that was captured after that moment is wanted, if
   * one comes.
   */
  private async frame(since = 0): Promise<Frame> {
    if (this.closed || this.size().w === 0)
      throw new Error("Nothing is shared any more. Share a screen again to go on.");
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, since > 0 ? lateWait : frameWait);
      const next = () =>
        this.video.requestVideoFrameCallback((_, { captureTime, presentationTime }) => {
          if ((captureTime ?? presentationTime) < since) return void next();
          clearTimeout(timer);
          resolve();
        });
      next();
    });
    return this.shown();
  }

  /** What the video shows. A video frame is only handed on: its pixels are made in the studio, not on the page. */
  private async shown(): Promise<Frame> {
    return "VideoFrame" in globalThis ? new VideoFrame(this.video) : createImageBitmap(this.video);
  }

  /** What is shared, to be recorded: with the pointer or without, as far as the browser can. */
  async track(pointer: boolean): Promise<MediaStreamTrack> {
    const track = this.stream.getVideoTracks()[0] as MediaStreamTrack;
    await track
      .applyConstraints({ cursor: pointer ? "always" : "never" } as MediaTrackConstraints)
      .catch(() => undefined);
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
    const frame = await this.shown();
    return studio("printFrame", { frame }, [frame]);
  }

  close() {
    this.closed = true;
    this.stream.getTracks().forEach((t) => t.stop());
    this.video.srcObject = null;
  }
}
