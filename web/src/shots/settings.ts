import { useSyncExternalStore } from "react";
import type { PointerChoice, Region, What } from "../core/capture";

export type When = "now" | "delay" | "click" | "settled";
export type Preset = { name: string; w: number; h: number };

/** How a person likes to capture, kept in this browser from one session to the next. */
export type Settings = {
  what: What;
  when: When;
  delay: number; // seconds
  quiet: number; // seconds
  pointer: PointerChoice;
  share: number; // of a window's height, for a band
  shadow: boolean;
  pattern: string;
  presets: Preset[];
  region?: Region;
  copy: boolean;
  open: boolean;
};

const usual: Settings = {
  what: "window",
  when: "now",
  delay: 5,
  quiet: 1,
  pointer: "out",
  share: 0.35,
  shadow: false,
  pattern: "{window} {n}",
  presets: [
    { name: "1280 × 720", w: 1280, h: 720 },
    { name: "800 × 600", w: 800, h: 600 },
  ],
  copy: false,
  open: false,
};

const key = "raconte-capture";

function read(): Settings {
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as Partial<Settings>) };
  } catch {
    return usual;
  }
}

let now = read();
const listeners = new Set<() => void>();

export const settings = () => now;

export function change(some: Partial<Settings>) {
  now = { ...now, ...some };
  try {
    localStorage.setItem(key, JSON.stringify(now));
  } catch {
    // A browser that keeps nothing: the choice lasts until the page is closed.
  }
  listeners.forEach((l) => l());
}

export const useSettings = () =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => void listeners.delete(l);
    },
    () => now,
  );
