import type { About, Element, Rect } from "../api/client";
import type { Point } from "./core";

// What the core knows of taking shots; see core/capture.

/** What a source knows of the screen at one moment; see core/capture. */
export type Screen = {
  w: number;
  h: number;
  monitors: { id: string; rect: Rect; scale: number }[];
  windows: { title: string; rect: Rect; shadow?: number }[];
  elements: Element[];
};

export type What = "everything" | "monitor" | "window" | "element" | "region" | "outline" | "band" | "page";
export type PointerChoice = "in" | "out" | "apart";
export type Wish = {
  what: What;
  at: Point;
  region?: Rect;
  outline?: Point[];
  share: number;
  shadow: boolean;
  pointer: PointerChoice;
};
/** The languages of sentences; see core/capture. */
export const languages = { en: "English", de: "Deutsch", fr: "Français", es: "Español" };
export type Language = keyof typeof languages;
/** How much of a shot a step shows. */
export type Show = "" | "band" | "near";
/** An area to take again, relative to its window where there was one. */
export type Region = { rect: Rect; window?: string; w: number; h: number };
export type Cut = { rect: Rect; outline?: Point[]; about: About; kept?: Region };
