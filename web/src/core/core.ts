import type { About, Figure, Finding, Mark, Rect, StepContent, Tags } from "../api/client";
import type { Cut, Region, Screen, Wish } from "./capture";

// The core is Go compiled to WebAssembly: the same rules and drawing that the server prints with.

export type Point = { x: number; y: number };
export type Size = { w: number; h: number };
export type Path = { d: string; fill: string };
export type Shape = { mark: string; paths: Path[] };
export type Grip = { name: string; at: Point };
export type View = {
  frame: Rect;
  shapes: Shape[];
  order: string[];
  grips: Grip[];
  around?: Rect;
  crop?: Rect;
  tool: string;
  keep: boolean;
  selected?: Mark;
  list: { id: string; name: string }[];
  typing: boolean;
  figure?: Figure;
};
export type Pointer = { at: Point; scale: number; shift: boolean };
export type Drawing = { frame: Rect; shapes: Shape[] };

declare global {
  var Go: new () => { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> };
  var raconteReady: () => void;
  var raconteCore: (name: string, args: string) => string;
  var raconteFont: (name: string, ttf: Uint8Array) => string;
}

/** A region while it is drawn; see core/capture. */
export type RegionDrag = { from: Point; to: Point; ratio: number; w: number; h: number };

let loading: Promise<void> | undefined;

/** Loads the core, once; warm it up as soon as it may be needed. */
export function loadCore(): Promise<void> {
  loading ??= (async () => {
    const go = new Go();
    const ready = new Promise<void>((resolve) => (globalThis.raconteReady = resolve));
    const { instance } = await WebAssembly.instantiateStreaming(fetch("/core.wasm"), go.importObject);
    void go.run(instance);
    await ready;
  })();
  return loading;
}

function call<T>(name: string, args: unknown = {}): T {
  const answer = JSON.parse(raconteCore(name, JSON.stringify(args))) as { ok?: T; error?: string };
  if (answer.error !== undefined) throw new CoreError(name, answer.error);
  return answer.ok as T;
}

/** A refusal of the core; its reason is in words for people. */
export class CoreError extends Error {
  constructor(
    name: string,
    readonly reason: string,
  ) {
    super(`core ${name}: ${reason}`);
  }
}

const labels = new WeakMap<StepContent, string>();

type FigureArgs = { figure: Figure; shot: Size; first: number };

export const core = {
  figure: (args: FigureArgs) => call<Drawing>("figure", args),
  tags: (figures: Figure[]) => call<Tags>("tags", figures),
  firsts: (figures: Figure[]) => call<number[]>("firsts", figures),
  empty: (words: StepContent["words"]) => call<boolean>("empty", words),
  inks: () => call<{ name: string; color: string }[]>("inks"),
  check: (document: { id: string; kind: string; title: string; steps: ({ id: string } & StepContent)[] }) =>
    call<Finding[]>("check", document),
  /** A step's first sentence. Asked again and again while pages are drawn, so kept for as long as the content is. */
  label: (step: { id: string; content: StepContent }) => {
    let label = labels.get(step.content);
    if (label === undefined) {
      label = call<string>("label", { id: step.id, ...step.content });
      labels.set(step.content, label);
    }
    return label;
  },
  order: (files: { name: string; taken: string }[]) => call<number[]>("order", files),
  arrange: (keys: string[], at: number, n: number) =>
    call<{ keys: string[]; anew?: string[] }>("arrange", { keys, at, n }),
  cut: (screen: Screen, wish: Wish) => call<Cut>("cut", { screen, wish }),
  again: (screen: Screen, region: Region) => call<{ rect: Rect; note: string }>("again", { screen, region }),
  dragRegion: (drag: RegionDrag, screen: Rect) => call<Rect>("dragRegion", { drag, screen }),
  reshapeRegion: (rect: Rect, handle: string, by: Point, screen: Rect) =>
    call<Rect>("reshapeRegion", { rect, handle, by, screen }),
  /** The words of a click in one line; "" where nothing is known of one. */
  actionWords: (about: About) => call<string>("actionWords", about),
  stepsOf: (shots: { shot: string; size: Size; about: About }[]) =>
    call<({ id: string } & StepContent)[]>("stepsOf", shots),
  shotName: (naming: { pattern: string; taken: string; window: string; session: string; n: number; used: string[] }) =>
    call<string>("shotName", naming),
  checkPattern: (pattern: string) => call<string>("checkPattern", pattern),
  safeLink: (href: string) => call<boolean>("safeLink", href),
  missing: (text: string) => call<string[]>("missing", text),
};

export const stage = {
  open: (args: FigureArgs) => call<View>("open", args),
  redraw: () => call<View>("redraw"),
  choose: (tool: string, keep: boolean) => call<View>("choose", { tool, keep }),
  select: (id: string) => call<View>("select", { id }),
  cancel: () => call<View>("cancel"),
  down: (p: Pointer) => call<View>("down", p),
  move: (p: Pointer) => call<View>("move", p),
  up: (p: Pointer) => call<View>("up", p),
  cursor: (p: Pointer) => call<string>("cursor", p),
  nudge: (by: Point, reshape: boolean) => call<View>("nudge", { by, reshape }),
  place: () => call<View>("place"),
  applyCrop: () => call<View>("applyCrop"),
  wholeShot: () => call<View>("wholeShot"),
  remove: () => call<View>("delete"),
  ink: (name: string) => call<View>("ink", name),
  weight: (weight: string) => call<View>("weight", weight),
  text: (words: string) => call<View>("text", words),
  raise: (by: number) => call<View>("raise", by),
  paste: (mark: Mark) => call<View>("paste", mark),
  chosen: () => call<Mark | null>("chosen"),
};

const fetching = new Map<string, Promise<boolean>>();

/** Fetches the faces that words in a picture need and the core does not have yet; true if it got any. */
export async function fetchFaces(words: string): Promise<boolean> {
  let got = false;
  // One after the other: the smaller face often has it all, and the larger is never asked for then.
  for (let [name] = core.missing(words); name; [name] = core.missing(words)) {
    const face = fetching.get(name) ?? fetchFace(name);
    fetching.set(name, face);
    if (!(await face)) {
      fetching.delete(name); // asked again when such words are next shown; until then boxes stand for the letters
      return got;
    }
    got = true;
  }
  return got;
}

async function fetchFace(name: string): Promise<boolean> {
  try {
    const answer = await fetch(`/fonts/${name}.ttf`);
    return answer.ok && raconteFont(name, new Uint8Array(await answer.arrayBuffer())) === "";
  } catch {
    return false;
  }
}
