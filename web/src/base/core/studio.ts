import type { Figure, Rect } from "../api/client";
import type { Cut, Screen, Wish } from "./capture";
import type { Frame } from "./frame";
import type { Point } from "./core";

/** A picture with what is known of it. */
export type Captured = { blob: Blob; thumb: Blob; width: number; height: number; cut: Cut };
type Picture = Omit<Captured, "cut">;

/** What the studio does: see studio.worker.ts. */
export type StudioCall = {
  start: { args: { now: string; canvas: OffscreenCanvas }; gives: undefined };
  screen: { args: object; gives: Screen };
  move: { args: { at: Point }; gives: undefined };
  press: { args: { at: Point; kind: string; record?: Wish }; gives: Captured[] };
  release: { args: object; gives: undefined };
  /** Whether the workstation shows its pointer. */
  pointer: { args: { shown: boolean }; gives: undefined };
  wheel: { args: { at: Point; by: number }; gives: undefined };
  key: { args: { key: string; record?: Wish }; gives: Captured[] };
  pass: { args: { ms: number }; gives: undefined };
  take: { args: { wish: Wish }; gives: Captured };
  typed: { args: { wish: Wish }; gives: Captured | undefined };
  print: { args: object; gives: string };
  printFrame: { args: { frame: Frame }; gives: number };
  watch: { args: { quiet: number }; gives: undefined };
  look: { args: { print: number | string }; gives: boolean };
  cut: { args: { frame: Frame; cut: Cut }; gives: Picture };
  windows: { args: { frame: Frame }; gives: Rect[] };
  monitors: { args: { blob: Blob }; gives: Rect[] };
  parts: { args: { blob: Blob; rects: Rect[] }; gives: Picture[] };
  thumb: { args: { blob: Blob }; gives: { thumb: Blob; width: number; height: number } };
  ink: { args: { blob: Blob; frame: Rect; width: number }; gives: string };
  /** A copy of a shot of some width, with its colours as the figure has them. */
  recolour: { args: { frame: Frame; figure: Figure; width: number }; gives: Picture };
  part: { args: { frame: Frame; rect: Rect }; gives: number };
  stitch: { args: object; gives: Picture };
  forget: { args: object; gives: undefined };
};

export type Request = { id: number; name: keyof StudioCall; args: unknown };
export type Reply = { id: number; value?: unknown; error?: string };

let worker: Worker | undefined;
let next = 0;
const waiting = new Map<number, { resolve: (v: never) => void; reject: (e: Error) => void }>();

/** Asks the studio, which works beside the page. */
export function studio<N extends keyof StudioCall>(
  name: N,
  args: StudioCall[N]["args"],
  given: Transferable[] = [],
): Promise<StudioCall[N]["gives"]> {
  if (!worker) {
    worker = new Worker(new URL("./studio.worker.ts", import.meta.url), { type: "module" });
    worker.addEventListener("message", (e: MessageEvent<Reply>) => {
      const { id, value, error } = e.data;
      const asked = waiting.get(id);
      waiting.delete(id);
      if (error !== undefined) asked?.reject(new Error(error));
      else asked?.resolve(value as never);
    });
    // It could not be loaded, as while the network is away: the next call tries again.
    worker.addEventListener("error", () => {
      worker?.terminate();
      worker = undefined;
      const lost = [...waiting.values()];
      waiting.clear();
      lost.forEach((asked) => asked.reject(new Error("A part of Raconte could not be loaded. Try again.")));
    });
  }
  const id = ++next;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    worker?.postMessage({ id, name, args } satisfies Request, given);
  });
}
