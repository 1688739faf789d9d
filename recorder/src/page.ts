import { bring, collect, perform, settled } from "./again";
import { innermost, meant, nameOf, rectOf, roleOf, told } from "./element";
import { askFrames, frameState, greet, key as frameKey, meetFrames } from "./frames";
import type { Act, Message, Told } from "./types";

// Runs in every frame of a page that is recorded. It looks on: nothing is cancelled, replayed or changed. Before an act
// takes effect the page is held for a moment, in which the browser takes its picture.

const hold = 130; // milliseconds; the browser copies the frame meanwhile
const doubles = 500; // milliseconds in which a second click makes a double click
const moved = 8; // pixels that make a drag of a click
const cannotHold = navigator.userAgent.includes("Firefox/"); // its pictures wait for the page

let recording = false;
let checked = false; // a run is gone through again here: where frames and secrets are is told, and nothing else
let dirty: HTMLElement | undefined; // a field that was typed in and not told of yet
let last: { element: Element; at: number; x: number; y: number } | undefined;
let seenAt = { x: scrollX, y: scrollY };

function say(message: Message) {
  try {
    void chrome.runtime.sendMessage(message).catch(() => undefined);
  } catch {
    recording = false; // the recorder was updated or removed: this page is left alone
  }
}

function tell(acts: Act[], at?: { x: number; y: number }, spare?: Told["spare"]) {
  const ratio = devicePixelRatio;
  const address = location.origin === "null" ? "" : location.origin + location.pathname;
  say({
    told: { acts, pointer: at, title: document.title, address, ratio, frame: frameState(), ...(spare && { spare }) },
  });
  if (cannotHold || spare === "use") return;
  const until = performance.now() + hold;
  while (performance.now() < until);
}

/** What was typed and not told of yet, as an act. */
function typed(): Act[] {
  const field = dirty;
  dirty = undefined;
  if (!field?.isConnected) return [];
  const element = told(field);
  const text = "value" in field ? String(field.value) : field.innerText;
  return [{ kind: "keys", element, ...(!element.secret && { text: text.slice(0, 500) }) }];
}

const inText = (e: Element) =>
  e instanceof HTMLTextAreaElement ||
  (e instanceof HTMLElement && e.isContentEditable) ||
  (e instanceof HTMLInputElement && roleOf(e).match(/textbox|password|date/) !== null);

/** That a person had to scroll to what they use now. */
function scrolled(element: Element): Act[] {
  const [dx, dy] = [scrollX - seenAt.x, scrollY - seenAt.y];
  seenAt = { x: scrollX, y: scrollY };
  const r = rectOf(element);
  const wasSeen = r.y + dy < innerHeight && r.y + dy + r.h > 0 && r.x + dx < innerWidth && r.x + dx + r.w > 0;
  return wasSeen ? [] : [{ kind: "scroll", element: told(element) }];
}

function pressed(e: PointerEvent) {
  if (!recording || !e.isTrusted || (e.button !== 0 && e.button !== 2)) return;
  const found = innermost(e);
  if (!found) return;
  const element = meant(found);
  const at = { x: e.clientX, y: e.clientY };
  const before = dirty === element ? [] : typed();
  const again =
    last?.element === element && e.timeStamp - last.at < doubles && Math.hypot(at.x - last.x, at.y - last.y) < moved;
  if (again && e.button === 0 && !/button|link|checkbox|switch|radio|tab|slider/.test(roleOf(element))) {
    last = undefined;
    return say({ amend: { kind: "double-click" } });
  }
  last = e.button === 0 ? { element, at: e.timeStamp, ...at } : undefined;
  // A list of the browser's own is told of when something was chosen in it, with the picture of now.
  if (element instanceof HTMLSelectElement) return tell(before, at, "keep");
  // A click in a field is told of when something was typed there.
  if (e.button === 0 && inText(element) && !element.matches("[readonly]")) {
    if (before.length > 0) tell(before, at);
    return;
  }
  tell(
    [...before, ...scrolled(element), { kind: e.button === 2 ? "right-click" : "click", element: told(element) }],
    at,
  );
}

function released(e: PointerEvent) {
  if (!recording || !e.isTrusted || !last || e.button !== 0) return;
  if (Math.hypot(e.clientX - last.x, e.clientY - last.y) < moved) return;
  dropped({ x: e.clientX, y: e.clientY });
}

let dragged = { x: 0, y: 0 }; // where what is dragged was last: the end of a drag is told without a place by some

function dropped(at: { x: number; y: number }) {
  if (!recording || !last) return;
  const { element } = last;
  if (element.matches("input[type=range], [role=slider]") || inText(element)) return;
  const onto = document.elementFromPoint(at.x, at.y);
  last = undefined;
  const name = onto ? nameOf(meant(onto)) : "";
  if (onto && meant(onto) !== element) say({ amend: { kind: "drag", text: name } });
}

function changed(e: Event) {
  if (!recording) return;
  const element = e.composedPath()[0];
  if (element instanceof HTMLSelectElement) {
    const text = [...element.selectedOptions].map((o) => o.label).join(", ");
    tell([{ kind: "choose", element: told(element), text }], undefined, "use");
  } else if (element instanceof HTMLInputElement && element.type === "range") {
    dirty = undefined;
    say({ amend: { kind: "set", text: element.value } });
  } else if (element instanceof HTMLInputElement && element.type === "file") {
    say({ amend: { kind: "file" } });
  }
}

function written(e: Event) {
  if (!recording || !e.isTrusted) return;
  const element = e.composedPath()[0];
  if (element instanceof HTMLElement && inText(element)) dirty = element;
}

const alone = /^(F\d+|Escape|Enter|Delete|PageUp|PageDown)$/;
const signs: Record<string, string> = {
  " ": "Space",
  ArrowUp: "Up",
  ArrowDown: "Down",
  ArrowLeft: "Left",
  ArrowRight: "Right",
  Escape: "Esc",
};
const editing = /^[acvxzy]$/i;

function key(e: KeyboardEvent) {
  if (!recording || !e.isTrusted || e.repeat || /^(Control|Alt|Shift|Meta|AltGraph|Process)$/.test(e.key)) return;
  const element = innermost(e) ?? document.body;
  const writes = inText(element);
  const combined = (e.ctrlKey || e.metaKey || e.altKey) && !e.getModifierState("AltGraph");
  if (e.key === "Tab" && !combined) {
    const acts = typed();
    if (acts.length > 0) tell(acts);
    return;
  }
  if (!combined && !writes && /^(Enter| )$/.test(e.key) && element.matches("a[href], button, summary, input, [role]")) {
    return tell([...typed(), { kind: "click", element: told(element) }]);
  }
  if (!combined && !alone.test(e.key)) return;
  if (writes && ((combined && editing.test(e.key)) || e.key === "Delete")) return;
  if (e.key === "Enter" && (element instanceof HTMLTextAreaElement || (element as HTMLElement).isContentEditable))
    return;
  if (/^Page/.test(e.key) && !combined) return;
  const text = [e.ctrlKey && "Ctrl", e.altKey && "Alt", e.metaKey && "Meta", e.shiftKey && "Shift", signs[e.key] ?? (e.key.length === 1 ? e.key.toUpperCase() : e.key)].filter(Boolean).join("+"); // prettier-ignore
  tell([...typed(), { kind: "shortcut", text }]);
}

function left(e: FocusEvent) {
  // A field that is left by the page itself, not by a press or a key, which have told of it already.
  if (recording && dirty && e.composedPath()[0] === dirty) setTimeout(() => recording && dirty && tell(typed()), 0);
}

let telling: ReturnType<typeof setTimeout> | undefined;
let settling: ReturnType<typeof setTimeout> | undefined;
function look() {
  telling ??= setTimeout(() => {
    telling = undefined;
    if (!recording && !checked) return;
    say({ frame: frameState() });
    clearTimeout(settling);
    // The page has settled, and looks as it will before the next act.
    if (cannotHold) settling = setTimeout(() => recording && say({ hover: true }), 200);
  }, 100);
}

let over: Element | undefined;
function hovers(e: PointerEvent) {
  if (!recording || !cannotHold) return;
  const found = innermost(e);
  const element = found && meant(found);
  if (!element || element === over) return;
  over = element;
  say({ hover: true });
}

/** Records, or leaves the page alone. Told by the background, and asked of it when the page begins. */
function turn(on: boolean) {
  if (on === recording) return;
  if (!on && dirty) tell(typed());
  recording = on;
  seenAt = { x: scrollX, y: scrollY };
  if (!on) return;
  greet();
  askFrames();
  look();
}

function begin() {
  meetFrames(look);
  const listen = <K extends keyof WindowEventMap>(name: K, f: (e: WindowEventMap[K]) => void) =>
    addEventListener(name, f, { capture: true, passive: true });
  listen("pointerdown", pressed);
  listen("pointerup", released);
  listen("dragover", (e) => void (dragged = { x: e.clientX, y: e.clientY }));
  listen("dragend", () => dropped(dragged));
  listen("change", changed);
  listen("input", written);
  listen("keydown", key);
  listen("focusout", left);
  listen("pointerover", hovers);
  for (const name of ["scroll", "resize", "focusin", "load"] as const) listen(name, look);
  new MutationObserver(look).observe(document, {
    subtree: true,
    childList: true,
    attributes: true,
    attributeFilter: ["type", "autocomplete", "src", "style", "class", "hidden"],
  });
  chrome.runtime.onMessage.addListener((m: { record?: boolean; tell?: boolean }) => {
    if (m.record !== undefined) turn(m.record);
    if (m.tell && (recording || checked)) {
      greet();
      askFrames();
      say({ frame: frameState() });
    }
  });
  const back =
    (performance.getEntriesByType("navigation")[0] as PerformanceNavigationTiming | undefined)?.type === "back_forward";
  // What is done until the answer is there is told, too: the background takes it only where the page is recorded.
  const arrived = (went: boolean) => {
    turn(true);
    void chrome.runtime
      .sendMessage({ ask: "record", back: went && globalThis.parent === globalThis.self } satisfies Message)
      .then((on) => turn(on === true))
      .catch(() => turn(false));
  };
  arrived(back);
  addEventListener("pageshow", (e) => e.persisted && arrived(true));
}

/** What the background calls when it goes through a run again. */
const again = {
  key: frameKey,
  perform,
  bring(at: number) {
    const it = bring(at);
    look(); // it may have scrolled
    return it;
  },
  collect,
  settled() {
    checked = true;
    greet();
    askFrames();
    look();
    return settled();
  },
};

const here = globalThis as { raconteAgain?: typeof again };
if (!here.raconteAgain) {
  here.raconteAgain = again;
  begin();
}
