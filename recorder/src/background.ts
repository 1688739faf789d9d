import { askHouse } from "./ask";
import { develop, look } from "./camera";
import * as check from "./check";
import { forgets, frameTold, moves, offsetOf, readLayouts, secretsOf } from "./layouts";
import * as queue from "./queue";
import { idle, isNever, keep, keepRun, kept, readCheck, readRun } from "./state";
import type { Act, Message, Rect, Run, Status, Told } from "./types";

const script = "page.js";
const everywhere = { origins: ["<all_urls>"] };

/** One thing after the other, in the order it was told: pictures are taken at once, and filed in turn. */
let turn: Promise<unknown> = Promise.resolve();
const inTurn = <T>(f: () => Promise<T>): Promise<T> => {
  const done = turn.then(f);
  turn = done.catch(() => undefined);
  return done;
};

let run: Run = idle;
const ready = Promise.all([readRun(), readCheck(), readLayouts()]).then(([r, c]) => {
  run = r;
  if (c) check.resume(c);
  void queue.send();
});

/** A picture, with what on it must not be seen. */
type Seen = { picture: Promise<ImageBitmap>; secrets: Rect[] | undefined };
const spares = new Map<number, Seen>();
const hovered = new Map<number, Seen & { at: number }>();
let lastTab: number | undefined;

function change(some: Partial<Run>) {
  run = { ...run, ...some };
  void keepRun(run);
  show();
}

function show() {
  const recording = run.state === "recording";
  void chrome.action.setBadgeText({ text: run.state === "idle" ? "" : recording ? String(run.taken) : "II" });
  void chrome.action.setBadgeBackgroundColor({ color: recording ? "#b3261e" : "#5b6670" });
  void chrome.action.setTitle({ title: recording ? `Recording: ${run.taken} taken` : "Raconte recorder" });
}

/** Whether a tab is recorded now. */
const records = (tab: number | undefined) =>
  run.state === "recording" && tab !== undefined && (run.tab === undefined || run.tab === tab);

/** Takes a picture now, in the moment before an act takes effect. */
function shoot(told: Told, tab: chrome.tabs.Tab): Seen {
  const id = tab.id as number;
  if (told.spare === "use") {
    const spare = spares.get(id);
    spares.delete(id);
    if (spare) return spare;
  }
  const before = hovered.get(id);
  hovered.delete(id);
  if (before && Date.now() - before.at < 5000) return before;
  return { ...seen(tab), secrets: [] }; // what the page tells with it is of the same moment
}

/** Takes the picture of a tab, with what must not be seen on it. */
const seen = (tab: chrome.tabs.Tab): Seen => ({ picture: look(tab.windowId), secrets: secretsOf(tab.id as number) });

const both = (a: Rect[] | undefined, b: Rect[] | undefined) => a && b && [...a, ...b];

async function take(told: Told, tab: chrome.tabs.Tab, frame: number) {
  const id = tab.id as number;
  const taken = new Date();
  const seeing = shoot(told, tab); // first of all: the page is held for it
  if (told.frame) frameTold(id, frame, told.frame);
  seeing.picture.catch(() => undefined);
  const secrets = both(seeing.secrets, secretsOf(id)); // now: the page may be another when the picture is there
  if (told.spare === "keep") spares.set(id, { picture: seeing.picture, secrets });
  const at = offsetOf(id, told.frame?.key ?? "");
  const acts = [...(lastTab !== undefined && lastTab !== id ? [{ kind: "tab", text: told.title }] : []), ...told.acts];
  lastTab = id;
  if (acts.length === 0) return;
  await inTurn(async () => {
    const { never } = await kept();
    if (isNever(tab.url ?? told.address, never) || (told.address && isNever(told.address, never))) {
      return change({ said: "This address is on the list of those never to record. Nothing was taken of it." });
    }
    try {
      await file(await seeing.picture, acts, told, { secrets, at, taken });
      if (run.said) change({ said: undefined });
    } catch (e) {
      change({ said: `A picture could not be taken: ${(e as Error).message}` });
    }
  });
}

type Known = { secrets: Rect[] | undefined; at: { x: number; y: number } | undefined; taken: Date };

/** Puts a picture with each act that it shows into the queue. */
async function file(seen: ImageBitmap, acts: Act[], told: Told, { secrets, at, taken }: Known) {
  const k = told.ratio;
  const placed = (r: Rect, by = { x: 0, y: 0 }) => ({
    x: (r.x + by.x) * k,
    y: (r.y + by.y) * k,
    w: r.w * k,
    h: r.h * k,
  });
  const picture = await develop(
    seen,
    secrets?.map((r) => placed(r)),
  );
  if (run.session === "") change({ session: named(told.title || "A run", taken) });
  for (const act of acts) {
    const { element, ...rest } = act;
    // Where its frame is unknown, the element is named and not pointed at.
    const here = element && at && { ...element, rect: placed(element.rect, at) };
    const action =
      act.kind === "end"
        ? undefined
        : { ...rest, ...(element && { element: here ?? { ...element, rect: placed({ x: 0, y: 0, w: 0, h: 0 }) } }) };
    await queue.add({
      id: crypto.randomUUID(),
      house: run.house,
      run: run.id,
      session: run.session,
      name: told.title.slice(0, 100),
      picture: picture.blob,
      about: {
        taken: taken.toISOString(),
        source: "feed",
        scale: k,
        window: { title: told.title, rect: { x: 0, y: 0, w: picture.w, h: picture.h } },
        ...(told.address && { address: told.address }),
        ...(told.pointer &&
          at && { pointer: { x: (told.pointer.x + at.x) * k, y: (told.pointer.y + at.y) * k, drawn: false } }),
        ...(action ? { action } : { action: { kind: "end" } }),
        elements: [],
      } as { action: queue.Action },
    });
    change({ taken: run.taken + 1 });
  }
}

const named = (title: string, at: Date) =>
  `${title.slice(0, 80)}, ${at.toLocaleDateString("en-GB", { day: "numeric", month: "long" })}, ${at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;

async function inject(tab: number) {
  try {
    await chrome.scripting.executeScript({
      target: { tabId: tab, allFrames: true },
      files: [script],
      injectImmediately: true,
    });
    return true;
  } catch {
    return false;
  }
}

async function start(tab: number | undefined, any: boolean) {
  const { house, never } = await kept();
  if (!house) return change({ said: "Connect this recorder with a Raconte first." });
  if (check.on()) return change({ said: "A run is being checked. Stop the check first." });
  const free = await chrome.permissions.contains(everywhere);
  if (any && !free)
    return change({ said: "To record any page, press the recorder’s button and allow it there, once." });
  const its = tab === undefined ? undefined : await chrome.tabs.get(tab);
  if (!its && !any) return;
  if (its && !any && isNever(its.url ?? "", never)) {
    return change({
      said: "This page can’t be recorded: it belongs to the browser, or is on the list of those never to record.",
    });
  }
  run = { ...idle, state: "recording", id: crypto.randomUUID(), house, ...(!any && { tab }) };
  lastTab = undefined;
  if (free) await listenToPages();
  const tabs = its && !any ? [its] : await chrome.tabs.query({});
  const done = await Promise.all(tabs.map(async (t) => t.id !== undefined && inject(t.id)));
  if (!done.some(Boolean)) return change({ ...idle, said: "This page does not let itself be recorded." });
  await tellPages(true);
  if (its?.id !== undefined) await isKnown(its.id);
  change({}); // it says that it records when it does
}

/** Has the script of pages run in each that is opened from now on. */
async function listenToPages() {
  await chrome.scripting.unregisterContentScripts({ ids: ["page"] }).catch(() => undefined);
  await chrome.scripting.registerContentScripts([
    {
      id: "page",
      js: [script],
      matches: ["<all_urls>"],
      allFrames: true,
      matchOriginAsFallback: true,
      runAt: "document_start",
      persistAcrossSessions: false,
    },
  ]);
}

/** Tells every page that it is recorded, or that it is left alone. */
async function tellPages(on: boolean) {
  const tabs = await chrome.tabs.query({});
  await Promise.all(
    tabs.map(
      async (t) =>
        t.id !== undefined && chrome.tabs.sendMessage(t.id, { record: on && records(t.id) }).catch(() => undefined),
    ),
  );
}

/** Waits until a page has told what on it must not be seen, a moment at most: until then nothing of it is. */
async function isKnown(tab: number) {
  for (let tries = 0; tries < 20 && !secretsOf(tab); tries++) await new Promise((r) => setTimeout(r, 50));
}

/** Ends the run; what the page shows then is its last picture. */
async function stop() {
  if (run.state === "idle") return;
  if (run.state === "recording") {
    await tellPages(false); // a field that is still being written in tells of itself
    await new Promise((r) => setTimeout(r, 150));
    const [tab] = await chrome.tabs.query(run.tab === undefined ? { active: true, lastFocusedWindow: true } : {});
    const its = run.tab === undefined ? tab : await chrome.tabs.get(run.tab).catch(() => undefined);
    if (its?.active && its.id !== undefined) {
      const told: Told = {
        acts: [{ kind: "end" }],
        title: its.title ?? "",
        address: "",
        ratio: 1,
      };
      const secrets = secretsOf(its.id);
      const { never } = await kept();
      if (!isNever(its.url ?? "https://unknown/", never)) {
        await inTurn(async () => {
          if (run.taken === 0) return; // nothing was done: asked when all that was told is filed
          try {
            await file(await look(its.windowId), told.acts, told, { secrets, at: undefined, taken: new Date() });
          } catch {
            // The run is whole without a last picture.
          }
        });
      }
    }
  } else await tellPages(false);
  queue.settle();
  await chrome.scripting.unregisterContentScripts({ ids: ["page"] }).catch(() => undefined);
  change({ ...run, state: "idle", tab: undefined });
}

async function pause(on: boolean) {
  change({ state: on ? "paused" : "recording" });
  await tellPages(!on);
}

async function status(): Promise<Status> {
  const { houses, house, never } = await kept();
  return {
    run,
    check: check.now(),
    waiting: await queue.waiting(),
    trouble: queue.trouble(),
    held: await queue.held(),
    house,
    houses: houses.map(({ address, name }) => ({ address, name })),
    never,
    everywhere: await chrome.permissions.contains(everywhere),
  };
}

/** Where the browser lets it, pages of the Raconte it is connected with can start, pause and stop. */
async function listenToHouses() {
  const { houses } = await kept();
  const allowed: string[] = [];
  for (const { address } of houses) {
    const origin = `${address.replace(/:\d+$/, "")}/*`; // patterns have no ports
    if (await chrome.permissions.contains({ origins: [origin] })) allowed.push(origin);
  }
  await chrome.scripting.unregisterContentScripts({ ids: ["house"] }).catch(() => undefined);
  if (allowed.length === 0) return;
  await chrome.scripting.registerContentScripts([
    { id: "house", js: ["house.js"], matches: [...new Set(allowed)], runAt: "document_start" },
  ]);
  for (const tab of await chrome.tabs.query({ url: allowed })) {
    if (tab.id === undefined) continue;
    await chrome.scripting.executeScript({ target: { tabId: tab.id }, files: ["house.js"] }).catch(() => undefined);
  }
}

/** The recorder's own pages may do all; those of a connected Raconte may start, pause, stop and ask how far it is. */
async function mayOrder(sender: chrome.runtime.MessageSender, m: Message): Promise<boolean> {
  if (sender.url?.startsWith(chrome.runtime.getURL(""))) return true;
  const from = sender.url && new URL(sender.url).origin; // patterns of scripts have no ports: another site may be at the same host
  const { houses } = await kept();
  return houses.some((h) => h.address === from) && ("do" in m || ("ask" in m && m.ask === "status"));
}

async function obey(m: Message, sender: chrome.runtime.MessageSender): Promise<unknown> {
  const tab = sender.tab;
  if ("ask" in m && m.ask === "record") {
    if (m.back && records(tab?.id) && tab) {
      await take({ acts: [{ kind: "back" }], title: tab.title ?? "", address: "", ratio: 1 }, tab, 0);
    }
    return records(tab?.id);
  }
  if (!(await mayOrder(sender, m))) return { error: "This page may not do that." };
  if ("ask" in m && m.ask === "runs") return askHouse((await kept()).house, "runs");
  if ("ask" in m) return status();
  if ("check" in m) {
    await check.begin((await kept()).house, m.check, m.tab);
    return status();
  }
  if ("do" in m && m.do === "start") await start(m.tab, m.any);
  else if ("do" in m) await (m.do === "stop" ? stop() : pause(m.do === "pause"));
  else if ("connect" in m) {
    const { houses } = await kept();
    const { connect } = m;
    await keep({ houses: [...houses.filter((h) => h.address !== connect.address), connect], house: connect.address });
    await listenToHouses();
    void queue.send();
  } else if ("decide" in m) check.decide(m.decide);
  else if ("drop" in m) await Promise.all(m.drop.map(queue.drop));
  else if ("choose" in m) await keep({ house: m.choose });
  else if ("forget" in m) {
    await keep({ houses: (await kept()).houses.filter((h) => h.address !== m.forget) });
    await listenToHouses();
  } else if ("never" in m) await keep({ never: m.never });
  return status();
}

chrome.runtime.onMessage.addListener((m: Message, sender, answer) => {
  const tab = sender.tab;
  // What a page tells is done at once: it is held for it. Everything that can be waited for comes after.
  if (tab && ("told" in m || "hover" in m || "frame" in m || "amend" in m)) {
    const hear = () => {
      if ("frame" in m && check.watches(tab.id)) frameTold(tab.id as number, sender.frameId ?? 0, m.frame);
      if (!records(tab.id)) return;
      if ("told" in m) void take(m.told, tab, sender.frameId ?? 0);
      else if ("amend" in m) void inTurn(() => queue.amend(m.amend));
      else if ("frame" in m) frameTold(tab.id as number, sender.frameId ?? 0, m.frame);
      else hovered.set(tab.id as number, { at: Date.now(), ...seen(tab) });
    };
    if (run.state === "recording") hear();
    else void ready.then(hear);
    return false;
  }
  void ready.then(() => obey(m, sender)).then(answer, (e: unknown) => answer({ error: (e as Error).message }));
  return true;
});

// Pages that follow each other in a tab that is recorded by a press on the button alone.
chrome.tabs.onUpdated.addListener((tab, info) => {
  if (info.status !== "loading") return;
  void ready.then(async () => {
    moves(tab);
    hovered.delete(tab);
    if (!records(tab)) return;
    if (!(await inject(tab)) && run.tab === tab) {
      change({
        said: "The tab went to a page that can’t be recorded without asking. Press the button there, and “Any page”.",
      });
    }
  });
});
chrome.tabs.onRemoved.addListener(
  (tab) =>
    void ready.then(() => {
      forgets(tab);
      return run.tab === tab ? stop() : undefined;
    }),
);

chrome.commands.onCommand.addListener((name, tab) => {
  void ready.then(async () => {
    if (name === "pause-or-go-on") return run.state === "idle" ? undefined : pause(run.state === "recording");
    if (run.state !== "idle") return stop();
    const [active] = tab ? [tab] : await chrome.tabs.query({ active: true, lastFocusedWindow: true });
    if (active?.id !== undefined) await start(active.id, false);
  });
});

// Whoever ended the background in the middle of sending: it goes on within half a minute.
void chrome.alarms.create("send", { periodInMinutes: 0.5 });
chrome.alarms.onAlarm.addListener(() => void queue.send());
queue.onChange(show);
chrome.permissions.onAdded.addListener(() => void listenToHouses());
// An update of the recorder or of the browser takes registered scripts away.
chrome.runtime.onInstalled.addListener(
  () =>
    void ready.then(async () => {
      await listenToHouses();
      if (run.state !== "idle" && (await chrome.permissions.contains(everywhere))) await listenToPages();
    }),
);
