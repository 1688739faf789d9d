import { Store, useStore } from "../../base/store";
import { local } from "../../base/storage/local";
import type { Language, PointerChoice, Region, Show, What } from "../../base/core/capture";
import { parsed } from "../../base/typed";

export type When = "now" | "delay" | "click" | "settled";
export type Preset = { name: string; w: number; h: number };

/** What happens with a shot as soon as it is taken. Send: the receiver that a report of it is shown for, by its id. */
export type After = { copy: boolean; save: boolean; add: boolean; open: boolean; report: boolean; send?: string };

/** Where shots come from. */
export type From = "screen" | "practice" | "clipboard" | "file";

/** How recordings are made: the ids of devices are the browser's own; "" is none. */
export type Film = { microphone: string; camera: string; pointer: boolean; countdown: number };

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
  after?: Partial<Record<From, After>>; // where it is chosen for a source
  language: Language; // of the sentences
  show: Show; // of shots of a run, in their steps
  film: Film;
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
  language: "en",
  show: "",
  film: { microphone: "", camera: "", pointer: true, countdown: 0 },
};

const key = "raconte-capture";

function read(): Settings {
  try {
    return { ...usual, ...parsed<Partial<Settings>>(local.taste(key) ?? "{}") };
  } catch {
    return usual;
  }
}

class Chosen extends Store {
  private kept: Settings | undefined;

  /** Read when they are first asked for: by then it is known whose they are. */
  get now() {
    return (this.kept ??= read());
  }

  change(some: Partial<Settings>) {
    this.kept = { ...this.now, ...some };
    local.set(key, JSON.stringify(this.kept));
    this.tell();
  }
}

const chosen = new Chosen();

export const settings = () => chosen.now;

export const change = (some: Partial<Settings>) => chosen.change(some);

export const useSettings = () => useStore(chosen, (c) => c.now);
