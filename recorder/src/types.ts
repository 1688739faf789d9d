/** A rectangle in CSS pixels of the frame it is told of. */
export type Rect = { x: number; y: number; w: number; h: number };

/** A thing on the page that a person can name and use. */
export type Element = {
  name: string;
  role: string;
  rect: Rect;
  window?: string; // the name of the dialog that it is in
  asks?: string; // what a field wants
  on?: boolean; // a tick box or switch: whether it is on before the act
  leads?: boolean; // a link to another page, that does nothing else
  secret?: boolean;
};

/** What a person did; the kinds are those of the feed. */
export type Act = { kind: string; element?: Element; text?: string };

/** What a frame tells of itself: where its own frames are, and what in it must never be seen. */
export type FrameState = {
  key: string; // by which its parent knows it; "" of the page itself
  document: string; // another for each document
  secrets: Rect[];
  frames: { key: string; rect: Rect }[];
  strangers: Rect[]; // frames that have not told who they are, and other things with pages of their own
};

/** One act with what the frame knows of the moment before it takes effect. */
export type Told = {
  acts: Act[]; // several share a picture: what was typed, and the click that ended it
  pointer?: { x: number; y: number };
  title: string;
  address: string; // without query and fragment
  ratio: number; // pixels of the picture to one CSS pixel
  frame?: FrameState; // nothing where it is not the page that tells
  spare?: "keep" | "use"; // keep this picture for an act to come; use the one that was kept
};

/** A Raconte that shots are sent to. */
export type House = { address: string; token: string; name: string };

/** The state of recording, as everything that shows it needs it. */
export type Run = {
  state: "idle" | "recording" | "paused";
  tab?: number; // the only one that is recorded; undefined: any
  id: string; // of the session in Raconte
  session: string; // its name
  house: string;
  taken: number;
  said?: string; // what went wrong last, in words for people
};

/** A run that is gone through again. */
export type Check = {
  state: "off" | "going" | "asking" | "done";
  run: string;
  name: string;
  house: string;
  tab: number;
  as: string; // the session that its pictures go to
  steps: { shot: string; size: { w: number; h: number }; words: string; action: Act }[];
  at: number;
  pictured?: number; // the last step whose picture waits or is sent
  fits: ("same" | "moved" | "changed" | "gone")[];
  ask?: string; // what a person must decide
  hand?: boolean; // or do
  said?: string;
};

export type Status = {
  run: Run;
  check: Check;
  waiting: number;
  trouble: string;
  held: { n: number; name: string; session: string; why: string }[]; // that a person has to save or drop
  house: string;
  houses: { address: string; name: string }[];
  never: string[];
  everywhere: boolean; // it may record any page without asking
};

/** What is said to the background. */
export type Message =
  | { told: Told }
  | { amend: { kind: string; text?: string } } // the last act turned out to be another
  | { frame: FrameState }
  | { hover: true } // the pointer has come over another element
  | { ask: "record"; back: boolean } // a page has begun; back: a person went back to it
  | { ask: "status" }
  | { do: "start"; tab?: number; any: boolean }
  | { do: "stop" | "pause" | "go-on" }
  | { connect: House }
  | { ask: "runs" } // that can be checked
  | { check: string; tab: number } // a run to check
  | { decide: "do" | "done" | "leave" | "stop" }
  | { choose: string } // the house that runs go to
  | { forget: string }
  | { drop: number[] } // shots that don't go out by themselves
  | { never: string[] };
