import { reasonOf } from "../../base/reason";
import { Store } from "../../base/store";
import { type Filming as Film, storage, type Taking } from "../../base/storage/storage";
import type { Rect } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { core } from "../../base/core/core";
import { outbox } from "../outbox/outbox";
import { type Item, shots } from "../shots/shots";
import { change, settings } from "../shots/settings";
import { tracks } from "./film/tracks";
import { recorder } from "./recorder";
import type { Source } from "./sources/source";
import { studio } from "../../base/core/studio";
import { Practice } from "./sources/practice";
import { sure } from "../../base/typed";

const most = 10 * 60 * 1000; // milliseconds
const mostBytes = 500 * 1024 * 1024;
const pieces = 1000; // milliseconds of each piece: with keys every two seconds no more than those are lost
const keys = 2000;
const mostWait = 3000; // for the first picture

const types = (w: number, h: number, sound: boolean) => {
  const level = w * h <= 1280 * 720 ? "1F" : w * h <= 2048 * 1088 ? "28" : "33";
  const audio = sound ? ",opus" : "";
  return [
    `video/mp4;codecs=avc1.6400${level}${audio}`,
    `video/webm;codecs=vp9${audio}`,
    `video/webm;codecs=vp8${audio}`,
  ];
};

/**
 * Filming makes recordings of the open source. What has been recorded is kept in this browser piece by piece, so that a
 * crash loses no more than the last two seconds; a page that is opened later goes on with what an earlier one left.
 */
class Filming extends Store {
  state: "off" | "waiting" | "on" | "paused" = "off";
  /** Milliseconds that were recorded, and how loud the microphone is, from 0 to 1. */
  ms = 0;
  level = 0;
  muted = false;
  hears = false;

  private recorders: MediaRecorder[] = [];
  private ends: (() => void)[] = [];
  private tail: Promise<unknown> = Promise.resolve();
  private bytes = 0;
  private since = 0;
  private before = 0;
  private film: Film | undefined;
  private microphone: MediaStreamTrack | undefined;
  private warned = false;

  /** Records the whole source or a part of it. */
  async begin(source: Source, part: Rect | undefined) {
    if (this.state !== "off") return;
    this.state = "waiting";
    this.muted = false;
    recorder.say("");
    this.tell();
    try {
      await this.start(source, part);
    } catch (e) {
      this.release();
      this.state = "off";
      recorder.say(`Nothing was recorded: ${reasonOf(e)}`, true);
      this.tell();
    }
  }

  private async start(source: Source, part: Rect | undefined) {
    const { film } = settings();
    if (!("MediaRecorder" in globalThis)) throw new Error("this browser makes no recordings.");
    const made = await tracks(source, part, film);
    this.ends.push(made.end);
    this.microphone = made.microphone;
    this.hears = made.microphone !== undefined;
    if (made.microphone) this.ends.push(this.listen(made.microphone));
    const stream = new MediaStream([made.picture, ...(made.microphone ? [made.microphone] : [])]);
    const type = types(made.w, made.h, this.hears).find((t) => MediaRecorder.isTypeSupported(t));
    if (!type) throw new Error("this browser can’t record what is shared.");
    const shot = newID();
    const taken: Taking = await this.taking(source, part, made);
    this.film = { shot, name: `${shots.nameOf(taken.about)}.${type.includes("mp4") ? "mp4" : "webm"}`, type, taken };
    if (made.camera) this.film.camera = "video/webm;codecs=vp8";
    await storage.beginFilming(this.film);
    // The lock tells other pages that this one is still at it.
    void navigator.locks.request(`filming ${shot}`, () => new Promise<void>((done) => this.ends.push(done)));
    this.bytes = this.ms = this.before = 0;
    this.warned = false;
    this.recorders = [this.recording(shot, "clip", stream, type, made.w * made.h)];
    if (made.camera && this.film.camera)
      this.recorders.push(this.recording(shot, "camera", new MediaStream([made.camera]), this.film.camera, 480 * 360));
    made.picture.addEventListener("ended", () => void this.stop());
    if (made.microphone)
      made.microphone.addEventListener("ended", () =>
        recorder.say("The microphone went away. The recording goes on without it.", true),
      );
    this.recorders.forEach((r) => r.start(pieces));
    this.since = performance.now();
    this.state = "on";
    const tick = setInterval(() => this.count(), 200);
    this.ends.push(() => clearInterval(tick));
    this.tell();
  }

  private recording(shot: string, of: "clip" | "camera", stream: MediaStream, mimeType: string, pixels: number) {
    const made = new MediaRecorder(stream, {
      mimeType,
      videoBitsPerSecond: Math.min(8_000_000, Math.max(1_000_000, pixels * 2)),
      videoKeyFrameIntervalDuration: keys,
    });
    made.ondataavailable = ({ data }) => {
      if (data.size === 0) return;
      this.bytes += data.size;
      this.tail = this.tail
        .then(() => storage.addPiece({ shot, of, blob: data }))
        .catch(() => {
          recorder.say("This browser can’t keep any more of the recording. What was recorded so far is kept.", true);
          void this.stop();
        });
    };
    return made;
  }

  private async taking(source: Source, part: Rect | undefined, made: { w: number; h: number }): Promise<Taking> {
    if (!shots.session) shots.begin();
    const session = sure(shots.session);
    const screen = await source.screen();
    const whole = { x: 0, y: 0, w: screen.w, h: screen.h };
    const about = core.cut(screen, {
      what: "region",
      at: recorder.at,
      share: 1,
      shadow: false,
      pointer: "out",
      region: part ?? whole,
    }).about;
    return {
      capture: session.id,
      session: session.name,
      about: { ...about, taken: new Date().toISOString(), source: source.kind, crop: undefined },
      thumb: await thumb(source, part ?? whole),
      width: made.w,
      height: made.h,
    };
  }

  /** How loud it is, for the eye. */
  private listen(track: MediaStreamTrack): () => void {
    const context = new AudioContext();
    const heard = context.createAnalyser();
    heard.fftSize = 512;
    context.createMediaStreamSource(new MediaStream([track])).connect(heard);
    const samples = new Float32Array(heard.fftSize);
    const timer = setInterval(() => {
      heard.getFloatTimeDomainData(samples);
      this.level = Math.min(1, samples.reduce((most, s) => Math.max(most, Math.abs(s)), 0) * 1.4);
      this.tell();
    }, 100);
    return () => {
      clearInterval(timer);
      void context.close();
    };
  }

  private count() {
    if (this.state !== "on") return;
    this.ms = this.before + performance.now() - this.since;
    if (!this.warned && (this.ms > most - 60_000 || this.bytes > 0.9 * mostBytes)) {
      this.warned = true;
      recorder.say(
        this.ms > most - 60_000
          ? "A recording is at most 10 minutes long: one minute is left."
          : "A recording has at most 500 MB: little is left.",
      );
    }
    if (this.ms >= most || this.bytes > 0.98 * mostBytes) void this.stop();
    else this.tell();
  }

  pause() {
    if (this.state === "on") {
      this.before += performance.now() - this.since;
      this.recorders.forEach((r) => r.pause());
      this.state = "paused";
    } else if (this.state === "paused") {
      this.since = performance.now();
      this.recorders.forEach((r) => r.resume());
      this.state = "on";
    }
    this.tell();
  }

  mute() {
    if (!this.microphone) return;
    this.muted = !this.muted;
    this.microphone.enabled = !this.muted;
    this.tell();
  }

  /** Ends the recording; it goes to the session. */
  async stop() {
    const film = this.film;
    if (!film || this.state === "off" || this.state === "waiting") return;
    this.state = "waiting";
    this.tell();
    await this.begun();
    await Promise.all(
      this.recorders.map(
        (r) =>
          new Promise<void>((done) => {
            if (r.state === "inactive") return done();
            r.onstop = () => done();
            r.stop();
          }),
      ),
    );
    await this.tail;
    this.film = undefined;
    const item = await finish(film).catch((e: Error) => {
      recorder.say(`The recording is kept in this browser, but could not be put together: ${e.message}`, true);
      return undefined;
    });
    this.release();
    this.state = "off";
    this.tell();
    if (item) recorder.filmed(item);
    else if (this.bytes === 0)
      recorder.say("Nothing was recorded: no picture came before it was ended. Record it once more.", true);
  }

  /** However soon it is ended, a recording has its first picture. */
  private async begun() {
    for (let n = 0; this.bytes === 0 && n < mostWait / 50; n++) {
      this.recorders.forEach((r) => {
        if (r.state === "paused") r.resume();
        if (r.state === "recording") r.requestData();
      });
      await new Promise((done) => setTimeout(done, 50));
    }
  }

  private release() {
    this.ends.splice(0).forEach((end) => end());
    this.recorders = [];
    this.microphone = undefined;
    this.level = 0;
    this.hears = false;
  }

  /** Goes on with recordings of pages that ended before they could. */
  async recover() {
    for (const film of await storage.filming().catch(() => [])) {
      if (film.shot === this.film?.shot) continue;
      await navigator.locks.request(`filming ${film.shot}`, { ifAvailable: true }, async (lock) => {
        if (!lock) return;
        const item = await finish(film).catch((e: Error) => {
          recorder.say(
            `A recording that was cut short can’t be put together: ${e.message}. It is kept, and tried again.`,
          );
          return undefined;
        });
        if (item)
          recorder.say(
            "A recording that was cut short is among your shots: all of it but at most its last two seconds is there.",
          );
      });
    }
  }
}

/** Makes a shot of a recording's pieces, and hands it to the outbox before they are forgotten. */
async function finish(film: Film): Promise<Item | undefined> {
  const all = await storage.pieces(film.shot);
  const of = (what: string) => all.filter((p) => p.of === what).map((p) => p.blob);
  if (of("clip").length === 0) {
    await storage.dropFilming(film.shot);
    return undefined;
  }
  const blob = new Blob(of("clip"), { type: film.type.split(";")[0] });
  const camera = of("camera").length > 0 ? new Blob(of("camera"), { type: "video/webm" }) : undefined;
  const kept = await outbox.add({ shot: film.shot, name: film.name, blob, camera, clip: true, taken: film.taken });
  if (kept) await storage.dropFilming(film.shot);
  else {
    // Its pieces are all that is kept of it until the server has it.
    const stop = outbox.onArrived(({ record }) => {
      if (record.shot !== film.shot) return;
      stop();
      void storage.dropFilming(film.shot);
    });
  }
  return shots.show({ shot: film.shot, name: film.name, blob: new Blob(), clip: true, taken: film.taken });
}

/** What stands for a recording in the list until the server has it. */
async function thumb(source: Source, part: Rect): Promise<Blob> {
  const canvas = new OffscreenCanvas(240, Math.max(1, Math.round((240 * part.h) / part.w)));
  canvas.getContext("2d")?.drawImage(source.face(), part.x, part.y, part.w, part.h, 0, 0, canvas.width, canvas.height);
  return canvas.convertToBlob({ type: "image/jpeg", quality: 0.8 });
}

export const filming = new Filming();

/** Shows the pointer of the workstation, or takes it away, as recordings are wished to have it. */
export const withPointer = (shown: boolean) => {
  change({ film: { ...settings().film, pointer: shown } });
  if (recorder.source instanceof Practice) void studio("pointer", { shown });
};
