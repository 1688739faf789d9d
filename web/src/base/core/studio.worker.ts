// The studio does what capture needs of pixels, beside the page, so that the page never stands still: it holds
// the practice workstation, cuts and encodes pictures, and runs the core's rules that look at whole pictures.
import type { Captured, Request, Reply, StudioCall } from "./studio";
import { type Frame, sizeOf } from "./frame";
import type { Rect } from "../api/client";
import type { Cut, Wish } from "./capture";
import { parsed, sure } from "../typed";

type Answer = {
  value?: string;
  error?: string;
  pixels?: Uint8ClampedArray<ArrayBuffer>;
  width?: number;
  height?: number;
};

declare global {
  var raconteStudio: (name: string, args: string, pixels: Uint8ClampedArray | null, w: number, h: number) => Answer;
  var raconteStudioReady: () => void;
}

const thumbWidth = 240;
let started: Promise<void> | undefined;

async function load() {
  const support = "/wasm_exec.js"; // a classic script that sets globalThis.Go
  await import(/* @vite-ignore */ support);
  const go = new Go();
  const ready = new Promise<void>((resolve) => (globalThis.raconteStudioReady = resolve));
  const { instance } = await WebAssembly.instantiateStreaming(fetch("/studio.wasm"), go.importObject);
  void go.run(instance);
  await ready;
}

function call(name: string, args: unknown = null, given?: ImageData): Answer {
  const a = raconteStudio(name, JSON.stringify(args), given?.data ?? null, given?.width ?? 0, given?.height ?? 0);
  if (a.error !== undefined) throw new Error(a.error);
  return a;
}

const value = <T>(a: Answer) => parsed<T>(a.value ?? "null");
const image = (a: Answer) => new ImageData(a.pixels as Uint8ClampedArray<ArrayBuffer>, a.width ?? 0, a.height ?? 0);

function canvas(w: number, h: number, read = false) {
  const made = new OffscreenCanvas(Math.max(1, w), Math.max(1, h));
  return { made, on: sure(made.getContext("2d", { willReadFrequently: read })) };
}

/** The pixels of a picture, or of a part of it. */
function pixelsOf(frame: Frame, part?: Rect): ImageData {
  const r = part ?? { x: 0, y: 0, ...sizeOf(frame) };
  const { on } = canvas(r.w, r.h, true);
  on.drawImage(frame, -r.x, -r.y);
  return on.getImageData(0, 0, r.w, r.h);
}

/** Encodes a picture as PNG with a small copy for the tray. */
async function encode(source: OffscreenCanvas): Promise<Pick<Captured, "blob" | "thumb" | "width" | "height">> {
  const k = Math.min(1, thumbWidth / source.width);
  const small = canvas(Math.round(source.width * k), Math.min(400, Math.max(1, Math.round(source.height * k))));
  small.on.imageSmoothingQuality = "high";
  small.on.drawImage(
    source,
    0,
    0,
    source.width,
    Math.min(source.height, 400 / k),
    0,
    0,
    small.made.width,
    small.made.height,
  );
  const [blob, thumb] = await Promise.all([
    source.convertToBlob({ type: "image/png" }),
    small.made.convertToBlob({ type: "image/webp", quality: 0.8 }),
  ]);
  return { blob, thumb, width: source.width, height: source.height };
}

function encodeImage(img: ImageData) {
  const { made, on } = canvas(img.width, img.height);
  on.putImageData(img, 0, 0);
  return encode(made);
}

let view: { on: OffscreenCanvasRenderingContext2D } | undefined;

let due = false;
/** Draws the workstation soon: of many events that come at once, the last one is seen. */
function show() {
  if (due) return;
  due = true;
  setTimeout(() => {
    due = false;
    const drawn = call("draw");
    if (drawn.pixels) view?.on.putImageData(image(drawn), 0, 0);
  }, 10);
}

/** A fingerprint of a shared screen: it counts up whenever a small copy differs by more than the noise of video. */
const noise = 7;
let last: Uint8ClampedArray | undefined;
let count = 0;
function printOf(frame: Frame): number {
  const { on } = canvas(96, 54, true);
  on.imageSmoothingQuality = "high";
  on.drawImage(frame, 0, 0, 96, 54);
  const now = on.getImageData(0, 0, 96, 54).data;
  if (!last || now.some((v, i) => Math.abs(v - (last?.[i] ?? 0)) > noise)) {
    last = now;
    count++;
  }
  return count;
}

let encoded: Promise<unknown> = Promise.resolve();

/**
 * Does something to the workstation; what a recording keeps is taken before it takes effect. Pictures are encoded after
 * it, in the order taken, so that what is done next does not wait.
 */
function act(record: Wish | undefined, before: [string, unknown], doing: () => void): Promise<Captured[]> {
  const taken = record ? value<unknown[]>(call(...before)).map((action) => call("take", { wish: record, action })) : [];
  doing();
  show();
  const work = encoded.then(async () => {
    const shots: Captured[] = [];
    for (const t of taken) shots.push({ ...(await encodeImage(image(t))), cut: value<Cut>(t) });
    return shots;
  });
  encoded = work.catch(() => undefined);
  return work;
}

const does: { [name in keyof StudioCall]: (args: StudioCall[name]["args"]) => Promise<StudioCall[name]["gives"]> } = {
  async start({ now, canvas: shown }) {
    call("start", now);
    shown.width = 3200;
    shown.height = 1080;
    view = { on: sure(shown.getContext("2d")) };
    show();
  },
  async screen() {
    return value(call("screen"));
  },
  async pointer({ shown }) {
    call("pointer", shown);
    show();
  },
  async move({ at }) {
    call("move", at);
    show();
  },
  press: ({ at, kind, record }) =>
    act(record && { ...record, at }, ["before", { ...at, kind }], () => call("press", at)),
  async release() {
    call("release");
  },
  async wheel({ at, by }) {
    call("wheel", { ...at, by });
    show();
  },
  key: ({ key, record }) => act(record, ["beforeKey", key], () => call("key", key)),
  async pass({ ms }) {
    call("pass", ms);
    show();
  },
  async take({ wish }) {
    const taken = wish.what === "page" ? call("page", { wish }) : call("take", { wish });
    show();
    return { ...(await encodeImage(image(taken))), cut: value<Cut>(taken) };
  },
  /** What was typed and not yet told, as a recording ends. */
  async typed({ wish }) {
    const action = value<unknown>(call("typing"));
    if (!action) return undefined;
    const taken = call("take", { wish, action });
    return { ...(await encodeImage(image(taken))), cut: value<Cut>(taken) };
  },
  async print() {
    return value<string>(call("print"));
  },
  async printFrame({ frame }) {
    const print = printOf(frame);
    frame.close();
    return print;
  },
  async watch({ quiet }) {
    last = undefined;
    call("watch", quiet);
  },
  async look({ print }) {
    return value<boolean>({ value: raconteStudio("look", String(print), null, 0, 0).value });
  },
  async cut({ frame, cut }) {
    const r = cut.rect;
    const { made, on } = canvas(r.w, r.h);
    on.drawImage(frame, -r.x, -r.y);
    frame.close();
    if (!cut.outline) return encode(made);
    const outline = cut.outline.map((p) => ({ x: p.x - r.x, y: p.y - r.y }));
    return encodeImage(image(call("inside", outline, on.getImageData(0, 0, r.w, r.h))));
  },
  async windows({ frame }) {
    const found = value<Rect[]>(call("windows", null, pixelsOf(frame)));
    frame.close();
    return found;
  },
  async monitors({ blob }) {
    const bitmap = await createImageBitmap(blob);
    const found = value<Rect[]>(call("monitors", null, pixelsOf(bitmap)));
    bitmap.close();
    return found;
  },
  async parts({ blob, rects }) {
    const bitmap = await createImageBitmap(blob);
    const made = await Promise.all(rects.map((r) => encodeImage(pixelsOf(bitmap, r))));
    bitmap.close();
    return made;
  },
  async thumb({ blob }) {
    const bitmap = await createImageBitmap(blob);
    const { width, height } = bitmap;
    const k = Math.min(1, thumbWidth / width);
    const small = canvas(Math.round(width * k), Math.max(1, Math.round(height * k)));
    small.on.drawImage(bitmap, 0, 0, small.made.width, small.made.height);
    bitmap.close();
    return { thumb: await small.made.convertToBlob({ type: "image/webp", quality: 0.8 }), width, height };
  },
  /** The ink that stands out best along a frame; its place is told in pixels of a shot of some width. */
  async ink({ blob, frame, width }) {
    const bitmap = await createImageBitmap(blob);
    const k = bitmap.width / width;
    const pixels = pixelsOf(bitmap);
    bitmap.close();
    return value<string>(call("ink", { x: frame.x * k, y: frame.y * k, w: frame.w * k, h: frame.h * k }, pixels));
  },
  async recolour({ frame, figure, width }) {
    const pixels = pixelsOf(frame);
    frame.close();
    return encodeImage(image(call("recolour", { figure, scale: pixels.width / width }, pixels)));
  },
  async part({ frame, rect }) {
    const n = value<number>(call("part", null, pixelsOf(frame, rect)));
    frame.close();
    return n;
  },
  async stitch() {
    return encodeImage(image(call("stitch")));
  },
  async forget() {
    call("forget");
  },
};

addEventListener("message", (e: MessageEvent<Request>) => {
  const { id, name, args } = e.data;
  void (async () => {
    let reply: Reply;
    try {
      started ??= load().catch((e: unknown) => {
        started = undefined; // the next call tries again
        throw e;
      });
      await started;
      reply = { id, value: await (does[name] as (args: unknown) => Promise<unknown>)(args) };
    } catch (error) {
      reply = { id, error: error instanceof Error ? error.message : String(error) };
    }
    postMessage(reply);
  })();
});
