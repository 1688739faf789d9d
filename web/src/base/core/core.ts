import type {
  CommentPin,
  About,
  Clip,
  Content,
  Facts,
  Figure,
  Finding,
  HouseStyle,
  Layout,
  Mark,
  Other,
  Rect,
  Span,
  Style,
  Tags,
  Target,
} from "../api/client";
import { whenIdle } from "./idle";
import type { Cut, Language, Region, Screen, Show, Wish } from "./capture";
import { parsed } from "../typed";

// The core is Go compiled to WebAssembly: the same rules and drawing that the server prints with.

export type Point = { x: number; y: number };
/** Lines that are left of a step's share of a page in a layout; where there are fewer than none, they are over. */
export type Fit = { layout: Layout; left: number };

export type Size = { w: number; h: number };
/** A stretch of a film: see core/film. Times are milliseconds. */
export type FilmSegment = {
  start: number;
  length: number;
  figure?: string;
  clip?: boolean;
  at?: number;
  hidden?: string[];
  from: Rect;
  to?: Rect;
  caption?: string;
};
export type FilmScene = {
  id: string;
  kind: "title" | "section" | "step" | "card";
  number: string;
  heading: string;
  words: string;
  said: string;
  missing?: string;
  start: number;
  length: number;
  speaks: number;
  spoken: number;
  guessed: boolean;
  voice?: { sha256: string; ms: number };
  captions: { from: number; to: number; text: string }[] | null;
  segments: FilmSegment[] | null;
};
export type FilmPlan = { w: number; h: number; length: number; scenes: FilmScene[] };
/** A stretch of a finished clip, from start on, and what of the recording runs in it. All in milliseconds. */
export type Run = { start: number; length: number; from: number; to: number };
export type Matrix = { a: number; b: number; c: number; d: number; e: number; f: number };
export type Tone = { look?: string; light?: number };
/** One drawing primitive of a scene; exactly one field is set. */
export type SceneItem = {
  path?: { d: string; fill: string; blend?: string };
  picture?: { ref: string; source: Rect; target: Rect; matrix?: Matrix; tone?: Tone };
  clip?: { d: string; items: SceneItem[] };
};
export type Shape = { mark: string; items: SceneItem[] };
export type Grip = { name: string; at: Point };
export type Entry = { id: string; name: string; kind: string; locked?: boolean; lost?: boolean; unsure?: boolean };
/** What the core answers: see core/stage. Order and list are told only where they changed. */
export type View = {
  frame: Rect;
  shapes: Shape[];
  listed: boolean;
  /** It has as many marks as it can have. */
  full?: boolean;
  order: string[];
  list: Entry[];
  grips: Grip[];
  around: Rect[];
  crop?: Rect;
  whole: Size;
  ratio?: number;
  sweep?: Rect;
  trail?: Point[];
  guides?: { upright: boolean; at: number }[];
  tool: string;
  keep: boolean;
  selected?: Mark;
  area?: Rect;
  chosen: string[];
  typing: boolean;
  figure?: Figure;
  /** The place of the shot that a colour was taken from just now. */
  picked?: Point;
  /** The part of the shot that was taken to read just now. */
  part?: Rect;
};
export type Pointer = { at: Point; scale: number; shift: boolean; alt: boolean; touch?: boolean };
export type Drawing = { frame: Rect; shapes: Shape[] };

declare global {
  var Go: new () => { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> };
  var raconteReady: () => void;
  var raconteCore: (name: string, args: string) => string;
  var raconteStage: (stage: number, name: string, args: string) => string;
  var raconteGround: (stage: number, pixels: Uint8ClampedArray, width: number, scale: number, known: string) => string;
  var raconteFont: (name: string, ttf: Uint8Array) => string;
}

/** A region while it is drawn; see core/capture. */
export type RegionDrag = { from: Point; to: Point; ratio: number; w: number; h: number };

let loading: Promise<void> | undefined;
let loaded = false;

export const loadedCore = () => loaded;

/**
 * Loads the core, once; warm it up as soon as it may be needed. Where it could not be loaded, it can be tried again.
 */
export function loadCore(): Promise<void> {
  loading ??= (async () => {
    const script = "/wasm_exec.js"; // of the Go toolchain, as it is
    await import(/* @vite-ignore */ script);
    const go = new Go();
    const ready = new Promise<void>((resolve) => (globalThis.raconteReady = resolve));
    const { instance } = await WebAssembly.instantiateStreaming(fetch("/core.wasm"), go.importObject);
    void go.run(instance);
    await ready;
    loaded = true;
    whenIdle(() => call("warm")); // the first drag is then as quick as any
  })().catch((e: unknown) => {
    loading = undefined;
    throw e;
  });
  return loading;
}

function call<T>(name: string, args: unknown = {}): T {
  return answered<T>(name, raconteCore(name, JSON.stringify(args)));
}

export function answered<T>(name: string, json: string): T {
  const answer = parsed<{ ok?: T; error?: string }>(json);
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

const labels = new WeakMap<Content, string>();
const empties = new WeakMap<Content["words"], boolean>();

/** A block as far as it counts. */
export type Counting = { id: string; content: Content };
/** How blocks and pictures are numbered, by their ids; markers: the number of a picture's first marker. */
export type Numbers = {
  blocks: Record<string, string>;
  figures: Record<string, number>;
  markers: Record<string, number>;
  steps: number;
};
/** A document as the core reads it. */
export type Whole = { format: number; id: string; kind: string; facts: Facts; blocks: ({ id: string } & Content)[] };

let asked: Record<string, { said: string; choices: string[] }> | undefined;
const sentences = new WeakMap<About, { language: Language; words: Content["words"] }>();
const counts = new WeakMap<Figure[], Map<string, string>>();
let numbered: { key: string; numbers: Numbers } = {
  key: "",
  numbers: { blocks: {}, figures: {}, markers: {}, steps: 0 },
};

/** What counts in a block, as JSON; kept for as long as its figures are: words don't count. */
function countsOf({ id, content }: Counting): string {
  const { type, level, figures } = content;
  let known = counts.get(figures);
  if (!known) counts.set(figures, (known = new Map()));
  const key = `${id} ${type} ${level}`;
  let json = known.get(key);
  if (json === undefined) {
    json = JSON.stringify(call("counts", { id, type, level, figures }));
    known.set(key, json);
  }
  return json;
}

export type FigureArgs = { figure: Figure; shot: Size; first: number };

/** Words that a comment is about, with what stood around them. */
export type Quote = { text: string; before?: string; after?: string };

export const core = {
  figure: (args: FigureArgs) => call<Drawing>("figure", args),
  /** All that counts in a document. The same answer for as long as nothing that counts has changed. */
  numbers: (blocks: Counting[], counting: Facts["counting"] = ""): Numbers => {
    const key = `{"counting":"${counting}","blocks":[${blocks.map(countsOf).join()}]}`;
    if (numbered.key !== key) numbered = { key, numbers: answered("numbers", raconteCore("numbers", key)) };
    return numbered.numbers;
  },
  /** How many blocks belong to the one at an index: to a section, all that is in it. */
  span: (blocks: Counting[], at: number) =>
    blocks[at]?.content.type === "section"
      ? call<number>("span", {
          blocks: blocks.map((b) => ({ id: b.id, type: b.content.type, level: b.content.level })),
          at,
        })
      : 1,
  /** One step of two; why says what stands in the way. */
  join: (above: Content, below: Content) => call<{ content: Content; why: string }>("join", { above, below }),
  /** A step of each line of a step's words. */
  eachLine: (content: Content) => call<Content[]>("eachLine", content),
  /** A step of each line of words. */
  lines: (words: Content["words"]) => call<Content[]>("lines", words),
  /** A step of each line of plain text, without bullets and numbers. */
  written: (text: string) => call<Content[]>("written", text),
  /** A time in seconds as people write it. */
  sayTime: (seconds: number) => call<string>("sayTime", seconds),
  /** What a person wrote for a time, in seconds; -1 where it is none. */
  readTime: (text: string) => call<number>("readTime", text),
  /** How a step's words fit its share of a page: in a layout, and in one with more room where there is one. */
  fit: (content: Content, style: HouseStyle, layout: Layout, sizes: Record<string, Size>) =>
    call<Fit[]>("fit", { content, style, layout, sizes }),
  /** The layout with more room for a step; "" where there is none. */
  roomier: (layout: Layout) => call<Layout>("roomier", layout),
  /** Facts as they are written today. */
  facts: (facts: Facts) => call<Facts>("facts", facts),
  /** Words with a name written otherwise; from "" adds it. */
  reworded: (words: Content["words"], from: string, to: string) =>
    call<Content["words"]>("reworded", { words, from, to }),
  /** A figure cropped to the size of a frame. */
  evened: (figure: Figure, shot: Size, frame: Size) => call<Figure>("evened", { figure, shot, frame }),
  /** A revision as a document counts them: 3, or C. */
  sayRevision: (facts: Facts, n: number) => call<string>("sayRevision", { facts, n }),
  /** What references read as, by the ids of what they refer to; titles are those of other documents. */
  names: (document: Whole, titles: Record<string, string>) =>
    call<Record<string, string>>("names", { document, titles }),
  /** How the markers of figures look where words refer to them. */
  tags: (figures: Figure[], numbers: Numbers) =>
    call<Tags>("tags", { figures, firsts: Object.fromEntries(figures.map((f) => [f.id, numbers.markers[f.id] ?? 1])) }),
  restyle: (figure: Figure, kind: string, style: object) => call<Figure>("restyle", { figure, kind, style }),
  empty: (words: Content["words"]): boolean => {
    const known = empties.get(words);
    if (known !== undefined) return known;
    const empty = call<boolean>("empty", words);
    empties.set(words, empty);
    return empty;
  },
  inks: () => call<{ name: string; color: string }[]>("inks"),
  check: (document: Whole, sizes: Record<string, Size>, around: Record<string, Other> | undefined) =>
    call<Finding[]>("check", { document, sizes, around }),
  /** A block's first sentence. Asked again and again while pages are drawn, so kept for as long as the content is. */
  label: (content: Content) => {
    let label = labels.get(content);
    if (label === undefined) {
      label = call<string>("label", content);
      labels.set(content, label);
    }
    return label;
  },
  /** A block's content of an older format in today's. */
  upgrade: (content: Content, from: number) => call<Content>("upgrade", { content, from }),
  /** The suggestions of which something still shows. */
  /** What a figure shows of the words in its shot, or in a part of it, line by line. */
  read: (asked: { figure: Figure; shot: Size; words: { text: string; rect: Rect }[]; area?: Rect }) =>
    call<string>("read", asked),
  secretsLeft: <T extends { rect: Rect; why: string }>(figure: Figure, found: T[]) =>
    call<T[]>("secretsLeft", { figure, found }),
  /** The marks, and the crop as one, whose targets are to be found in a new shot; and the figure with that shot. */
  asked: (figure: Figure) => call<Mark[]>("asked", figure),
  reshot: (figure: Figure, shot: string, found: Target[]) => call<Figure>("reshot", { figure, shot, found }),
  /** The figure with those concealments added that were found in its shot and of which something still shows. */
  concealAlike: (figure: Figure, concealed: Mark[], found: Target[]) =>
    call<Figure>("concealAlike", { figure, concealed, found }),
  /** The values of a mark's looks as they are drawn. */
  looks: (mark: Mark) => call<{ letters: number; corner: number; opacity: number; zoom: number }>("looks", mark),
  /** The style of a mark, apart from the mark. */
  styleOf: (mark: Mark) => call<Style>("styleOf", mark),
  /** What a kind of marks is called in a sentence. */
  kindName: (kind: string) => call<string>("kindName", kind),
  newStage: () => call<number>("newStage"),
  closeStage: (stage: number) => call<null>("closeStage", stage),
  order: (files: { name: string; taken: string }[]) => call<number[]>("order", files),
  arrange: (keys: string[], at: number, n: number) =>
    call<{ keys: string[]; anew?: string[] }>("arrange", { keys, at, n }),
  cut: (screen: Screen, wish: Wish) => call<Cut>("cut", { screen, wish }),
  again: (screen: Screen, region: Region) => call<{ rect: Rect; note: string }>("again", { screen, region }),
  dragRegion: (drag: RegionDrag, screen: Rect) => call<Rect>("dragRegion", { drag, screen }),
  reshapeRegion: (rect: Rect, handle: string, by: Point, screen: Rect) =>
    call<Rect>("reshapeRegion", { rect, handle, by, screen }),
  /** The words of a click, as a step would say them. */
  actionSaid: (about: About, language: Language) => {
    let said = sentences.get(about);
    if (said?.language !== language) {
      said = { language, words: call<Content["words"]>("actionSaid", { about, language }) };
      sentences.set(about, said);
    }
    return said.words;
  },
  /** The words of a click in one line; "" where nothing is known of one. */
  actionWords: (about: About, language: Language) => call<string>("actionWords", { about, language }),
  /** The questions of reports and requests: how people are asked, and what most answers are. */
  questions: () => (asked ??= call<Record<string, { said: string; choices: string[] }>>("questions", {})),
  /** What a picture says of a fault: a title, and where it was. */
  /** What a picture says of a fault: a title, and where it was. Of a figure only what it shows is said. */
  faultOf: (
    words: object[],
    about: About,
    browser: { name: string; value: string }[],
    of?: { figure: Figure; shot: Size },
  ) => call<{ title: string; where: Content["words"] }>("faultOf", { words, about, browser, ...of }),
  /** How a document is told as a film; lengths are how long texts take to be spoken, as far as that is known. */
  filmPlan: (
    document: object,
    around: Record<string, Other>,
    sizes: Record<string, Size>,
    lengths: Record<string, number>,
  ) => call<FilmPlan>("filmPlan", { document, around, sizes, lengths }),
  /**
   * One picture of a film, and the place in it of the finished picture, of which the source is seen, in shares of it.
   */
  filmFrame: (of: {
    scene: FilmScene;
    segment: FilmSegment;
    t: number;
    w: number;
    h: number;
    style: HouseStyle;
    house: string;
    meta: string;
    picture: Rect;
  }) => call<{ items: SceneItem[]; area: Rect; source: Rect }>("filmFrame", of),
  /** A figure without the marks that are not there yet. */
  filmFigure: (figure: Figure, first: number, hidden: string[]) =>
    call<Figure>("filmFigure", { figure, first, hidden }),
  /** A clip's figure as it is at a moment of its recording, to be marked; and the whole of it after that was done. */
  clipMoment: (figure: Figure, at: number) => call<Figure>("clipMoment", { figure, at }),
  clipEdited: (figure: Figure, at: number, now: Figure) => call<Figure>("clipEdited", { figure, at, now }),
  /** Where in the recording the picture is that stands for a clip. */
  clipStands: (clip: Clip) => call<number>("clipStands", clip),
  /** What a finished clip is made of, one after the other. */
  clipRuns: (clip: Clip) => call<Run[] | null>("clipRuns", clip) ?? [],
  clipWithout: (clip: Clip, out: Span[]) => call<Clip>("clipWithout", { clip, out }),
  /** Words with places filled in, by their names. */
  filled: (words: Content["words"], values: Record<string, string>) =>
    call<Content["words"]>("filled", { words, values }),
  /** The names of the places to fill in, in braces. */
  places: (words: Content["words"][]) => call<string[] | null>("places", words) ?? [],
  titleOf: (shots: { shot: string; size: Size; about: About }[]) => call<string>("titleOf", shots),
  writeUp: (shots: { shot: string; size: Size; about: About }[], how: { language: Language; show: Show }) =>
    call<({ id: string } & Content)[]>("writeUp", { shots, how: { language: how.language, show: how.show } }),
  /** A figure that shows all of its shot, a band, or what is near its first box. */
  shown: (figure: Figure, shot: Size, show: Show) => call<Figure>("shown", { figure, shot, show }),
  stepsOf: (shots: { shot: string; size: Size; about: About }[], how: { language: Language; show: Show }) =>
    call<({ id: string } & Content)[]>("stepsOf", { shots, how: { language: how.language, show: how.show } }),
  /** A name that every system takes for a file. */
  safeName: (name: string) => call<string>("safeName", name),
  shotName: (naming: { pattern: string; taken: string; window: string; session: string; n: number; used: string[] }) =>
    call<string>("shotName", naming),
  checkPattern: (pattern: string) => call<string>("checkPattern", pattern),
  quoteOf: (text: string, from: number, to: number) => call<Quote>("quoteOf", { text, from, to }),
  findQuote: (quote: Quote, text: string) =>
    call<{ from: number; to: number; found: boolean }>("findQuote", { quote, text }),
  pinShown: (figure: Figure, shot: { w: number; h: number }, pin: CommentPin) =>
    call<{ at: Rect; inside: boolean }>("pinShown", { figure, shot, pin }),
  pinAt: (figure: Figure, shot: { w: number; h: number }, at: Rect) => call<CommentPin>("pinAt", { figure, shot, at }),
  safeLink: (href: string) => call<boolean>("safeLink", href),
  missing: (text: string) => call<string[]>("missing", text),
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
