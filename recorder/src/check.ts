import { askHouse } from "./ask";
import { develop, look } from "./camera";
import { offsetOf, secretsOf } from "./layouts";
import * as queue from "./queue";
import { isNever, keepCheck, kept } from "./state";
import type { Act, Check, Element, Rect } from "./types";

// Goes through a run again, step by step, on a page that a person allows: what each step used is found as it is today,
// its picture is taken anew, and the step is done. Before anything that may send, and wherever it is unsure, it asks.

type Page = {
  collect: () => Element[];
  bring: (at: number) => Element | undefined;
  settled: () => Promise<true>;
  perform: (at: number, act: Act) => void;
  key: string;
};
type Holder = { raconteAgain: Page }; // what page.js puts beside the page's own
type Seen = { key: string; ratio: number; w: number; h: number; title: string; address: string; elements: Element[] };
type Found = { fit: Check["fits"][number]; at: number; ask?: string; hand?: boolean };

export const none: Check = { state: "off", run: "", name: "", house: "", tab: 0, as: "", steps: [], at: 0, fits: [] };

let check: Check = none;
let target: { frame: number; at: number; key: string } | undefined; // what the step at hand would act on

export const now = () => check;
/** Goes on after the background was ended and begun again: the step at hand is looked at anew. */
export function resume(was: Check) {
  check = was;
  if (!on()) return;
  set({ state: "going", ask: undefined, fits: was.fits.slice(0, was.at) });
  void step();
}
export const on = () => check.state === "going" || check.state === "asking";
export const watches = (tab: number | undefined) => on() && check.tab === tab;

function set(some: Partial<Check>) {
  check = { ...check, ...some };
  void keepCheck(check);
}

const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** Calls a function of the page's script in one frame or in all; a page that is just being loaded is tried again. */
async function inPage<R>(f: (...args: never[]) => R, args: unknown[], frame?: number) {
  for (let tries = 0; ; tries++) {
    try {
      const target = { tabId: check.tab, ...(frame === undefined ? { allFrames: true } : { frameIds: [frame] }) };
      return await chrome.scripting.executeScript({ target, func: f, args: args as [] });
    } catch (e) {
      if (tries === 5) throw e;
      await pause(300);
    }
  }
}

export async function begin(house: string, run: string, tab: number) {
  const language = chrome.i18n.getUILanguage();
  const got = await askHouse<{ name: string; steps: Check["steps"] }>(house, `runs/${run}?language=${language}`);
  const { url = "" } = await chrome.tabs.get(tab);
  if (isNever(url, (await kept()).never)) throw new Error("This page is one that is never recorded.");
  if (got.steps.length === 0) throw new Error("Nothing is known of what was done in this run.");
  set({ ...none, state: "going", house, run, name: got.name, tab, as: crypto.randomUUID(), steps: got.steps });
  void step();
}

/** What a person decided about the step that was asked about. */
export function decide(what: "do" | "done" | "leave" | "stop") {
  if (check.state !== "asking" && what !== "stop") return;
  if (what === "stop") return set({ state: "done", ask: undefined });
  set({ state: "going", ask: undefined });
  void (what === "do" ? act() : next());
}

function next(): Promise<void> | undefined {
  if (check.state !== "going") return undefined;
  if (check.at + 1 === check.steps.length) {
    queue.settle();
    set({ state: "done", at: check.at + 1 });
    return undefined;
  }
  set({ at: check.at + 1 });
  return step();
}

async function act() {
  const { action } = check.steps[check.at] as Check["steps"][number];
  const { frame, at } = target ?? { frame: 0, at: -1 };
  try {
    // Chromium tells of nothing that is thrown in a page.
    const [answer] = await inPage(
      (n: number, a: Act) => {
        try {
          (globalThis as unknown as Holder).raconteAgain.perform(n, a);
        } catch (e) {
          return (e as Error).message;
        }
        return "";
      },
      [at, { kind: action.kind, text: action.text ?? "" }],
      frame,
    );
    if (answer?.result) throw new Error(answer.result);
    await pause(150); // a page that goes elsewhere has begun to
  } catch (e) {
    return set({ state: "asking", ask: `It could not be done: ${(e as Error).message}`, hand: true });
  }
  await next();
}

/** Looks for what the step used, takes its picture, and does it or asks. */
async function step(): Promise<void> {
  const { action, shot, size } = check.steps[check.at] as Check["steps"][number];
  try {
    const { url = "" } = await chrome.tabs.get(check.tab);
    if (isNever(url, (await kept()).never)) throw new Error("the page is one that is never recorded");
    let seen: { frame: number; it: Seen }[] = [];
    let found: Found = { fit: "gone", at: -1 };
    // What a page fetches comes late: what is not there is looked for again.
    for (let tries = 0; tries < 4 && found.at < 0; tries++) {
      if (tries > 0) await pause(500);
      seen = await everything();
      const main = seen.find((s) => s.frame === 0)?.it;
      if (!main) throw new Error("this page does not let itself be looked at");
      const elements = seen.flatMap(({ it }) => placed(it));
      found = await askHouse<Found>(check.house, "match", {
        action,
        size,
        seen: { size: { w: main.w, h: main.h }, elements: elements.slice(0, 3000) },
      });
      if (!action.element) break;
    }
    target = whose(seen, found.at);
    // Once for each step, though the background be ended and begun again in between.
    if (check.pictured !== check.at) await picture(shot, action, found, seen.find((s) => s.frame === 0)?.it as Seen);
    set({ pictured: check.at });
    set({ fits: [...check.fits, found.fit] });
    if (check.state !== "going") return;
    if (found.ask) return set({ state: "asking", ask: found.ask, hand: found.hand });
    if (action.kind === "end") return next();
    await act();
  } catch (e) {
    set({ state: "done", said: `The check stopped: ${(e as Error).message}.` });
  }
}

/** What every frame of the page shows, once it has settled. */
async function everything(): Promise<{ frame: number; it: Seen }[]> {
  const first = await chrome.scripting.executeScript({
    target: { tabId: check.tab, allFrames: true },
    files: ["page.js"],
  });
  if (first.length === 0) return [];
  await inPage(() => (globalThis as unknown as Holder).raconteAgain.settled(), []);
  const all = await inPage(() => {
    const page = (globalThis as unknown as Partial<Holder>).raconteAgain;
    return (
      page && {
        key: page.key,
        ratio: devicePixelRatio,
        w: innerWidth,
        h: innerHeight,
        title: document.title,
        address: location.origin === "null" ? "" : location.origin + location.pathname,
        elements: page.collect(),
      }
    );
  }, []);
  return all.flatMap(({ frameId, result }) => (result ? [{ frame: frameId, it: result }] : []));
}

/** A frame's elements where they are on the page. */
function placed(it: Seen): Element[] {
  const at = offsetOf(check.tab, it.key) ?? { x: 0, y: 0 };
  return it.elements.map((e) => ({ ...e, rect: { ...e.rect, x: e.rect.x + at.x, y: e.rect.y + at.y } }));
}

/** Which frame's element is the one at a place among all. */
function whose(seen: { frame: number; it: Seen }[], at: number) {
  if (at < 0) return undefined;
  for (const { frame, it } of seen) {
    if (at < it.elements.length) return { frame, at, key: it.key };
    at -= it.elements.length;
  }
  return undefined;
}

/** Takes the picture of a step as it is today, and sends it with what became of it. */
async function picture(of: string, action: Act, found: Found, main: Seen) {
  const tab = await chrome.tabs.get(check.tab);
  if (!tab.active) await chrome.tabs.update(check.tab, { active: true });
  let element = action.element && { ...action.element, rect: { x: 0, y: 0, w: 0, h: 0 } };
  if (target) {
    const [brought] = await inPage(
      (n: number) => (globalThis as unknown as Holder).raconteAgain.bring(n),
      [target.at],
      target.frame,
    );
    await pause(150); // it may have scrolled, and frames tell where they are now
    const it = brought?.result;
    const offset = offsetOf(check.tab, target.key);
    const k = main.ratio;
    if (it && offset && element) {
      const rect: Rect = {
        x: (it.rect.x + offset.x) * k,
        y: (it.rect.y + offset.y) * k,
        w: it.rect.w * k,
        h: it.rect.h * k,
      };
      element = { ...element, name: it.name, role: it.role, rect };
    }
  }
  const k = main.ratio;
  const secrets = secretsOf(check.tab)?.map((r) => ({ x: r.x * k, y: r.y * k, w: r.w * k, h: r.h * k }));
  const seen = await develop(await look(tab.windowId), secrets);
  await queue.add({
    id: `${check.as}-${check.at}`, // the same if this is cut short before it is known
    house: check.house,
    run: check.as,
    session: `Check of ${check.name}`.slice(0, 120),
    name: main.title.slice(0, 100),
    picture: seen.blob,
    about: {
      taken: new Date().toISOString(),
      source: "feed",
      scale: k,
      window: { title: main.title, rect: { x: 0, y: 0, w: seen.w, h: seen.h } },
      ...(main.address && { address: main.address }),
      action: { ...action, ...(element && { element }) },
      elements: [],
      replay: { of, fit: found.fit },
    } as { action: queue.Action },
  });
}
