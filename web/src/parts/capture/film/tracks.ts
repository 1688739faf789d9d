import { reasonOf } from "../../../base/reason";
import type { Rect } from "../../../base/api/client";
import type { Film } from "../../shots/settings";
import { Practice } from "../sources/practice";
import { SharedScreen } from "../sources/screen";
import type { Source } from "../sources/source";
import { studio } from "../../../base/core/studio";
import { sure } from "../../../base/typed";

/** What a recording is made of. End lets all of it go. */
export type Tracks = {
  picture: MediaStreamTrack;
  microphone?: MediaStreamTrack;
  camera?: MediaStreamTrack;
  w: number;
  h: number;
  end: () => void;
};

const rate = 15; // pictures a second

const even = (v: number) => Math.max(2, Math.floor(v / 2) * 2);

/** The area of a recording: codecs want an even number of pixels each way. */
const evenly = (r: Rect): Rect => ({
  x: Math.floor(r.x / 2) * 2,
  y: Math.floor(r.y / 2) * 2,
  w: even(r.w),
  h: even(r.h),
});

/** Opens what is recorded of a source: its picture or a part of it, and the devices that are wished for. */
export async function tracks(source: Source, part: Rect | undefined, film: Film): Promise<Tracks> {
  const ends: (() => void)[] = [];
  const end = () => ends.forEach((e) => e());
  try {
    const microphone = film.microphone
      ? await device({ audio: { deviceId: film.microphone } }, "microphone")
      : undefined;
    if (microphone) ends.push(() => microphone.stop());
    const camera = film.camera
      ? await device({ video: { deviceId: film.camera, width: 480, frameRate: rate } }, "camera")
      : undefined;
    if (camera) ends.push(() => camera.stop());
    const { w, h } = source.size();
    const area = evenly(part ?? { x: 0, y: 0, w, h });
    const whole = area.w >= w - 1 && area.h >= h - 1;
    const picture =
      source instanceof SharedScreen
        ? await shared(source, whole ? undefined : area, film.pointer, ends)
        : await drawn(source, area, film.pointer, ends);
    return { picture, microphone, camera, w: area.w, h: area.h, end };
  } catch (e) {
    end();
    throw e;
  }
}

const refusals: Record<string, string> = {
  NotAllowedError: "the browser was told not to let it be used. Allow it, or record without it.",
  NotFoundError: "it is not there any more. Choose another one, or none.",
  NotReadableError: "another program is using it.",
};

async function device(wish: MediaStreamConstraints, what: string): Promise<MediaStreamTrack> {
  try {
    const stream = await navigator.mediaDevices.getUserMedia(wish);
    return sure(stream.getTracks()[0]);
  } catch (e) {
    throw new Error(`The ${what} can’t be used: ${refusals[e instanceof Error ? e.name : ""] ?? reasonOf(e)}`);
  }
}

/** A shared screen's own track, or a part of it, cut frame by frame: a hidden page draws nothing, but frames go on. */
async function shared(source: SharedScreen, area: Rect | undefined, pointer: boolean, ends: (() => void)[]) {
  const track = await source.track(pointer);
  ends.push(() => track.stop());
  if (!area) return track;
  const { MediaStreamTrackProcessor, MediaStreamTrackGenerator } = window;
  if (!MediaStreamTrackProcessor || !MediaStreamTrackGenerator)
    throw new Error("This browser records all that is shared, and no part of it. Choose “Everything”.");
  const cut = new MediaStreamTrackGenerator({ kind: "video" });
  const going = new AbortController();
  const visibleRect = { x: area.x, y: area.y, width: area.w, height: area.h };
  const cutting = new TransformStream<VideoFrame, VideoFrame>({
    transform(frame, to) {
      const inside = frame.codedWidth >= area.x + area.w && frame.codedHeight >= area.y + area.h;
      to.enqueue(
        inside ? new VideoFrame(frame, { visibleRect, displayWidth: area.w, displayHeight: area.h }) : frame.clone(),
      );
      frame.close();
    },
  });
  void new MediaStreamTrackProcessor({ track }).readable
    .pipeThrough(cutting)
    .pipeTo(cut.writable, { signal: going.signal })
    .catch(() => undefined); // it was told to end
  track.addEventListener("ended", () => cut.dispatchEvent(new Event("ended")));
  ends.push(() => {
    going.abort();
    cut.stop();
  });
  return cut;
}

/** What a source draws, copied into a canvas of the area. */
async function drawn(source: Source, area: Rect, pointer: boolean, ends: (() => void)[]) {
  if (source instanceof Practice) {
    await studio("pointer", { shown: pointer });
    ends.push(() => void studio("pointer", { shown: true }));
  }
  const canvas = document.createElement("canvas");
  canvas.width = area.w;
  canvas.height = area.h;
  const on = canvas.getContext("2d", { alpha: false });
  const draw = () => on?.drawImage(source.face(), area.x, area.y, area.w, area.h, 0, 0, area.w, area.h);
  draw();
  const timer = setInterval(draw, 1000 / rate);
  const track = sure(canvas.captureStream(rate).getVideoTracks()[0]);
  ends.push(() => {
    clearInterval(timer);
    track.stop();
  });
  return track;
}
