import { everywhere, nameOf, rectOf, roleOf, shortened, told, usable } from "./element";
import type { Act, Element as Told } from "./types";

// Does again what was done in a run, where a person lets it: finds what there is, and acts on one of it.

const most = 2500;
let seen: Element[] = [];

/** What is seen in this frame and can be used or pointed at, with its place in the frame. */
export function collect(): Told[] {
  seen = [];
  const found: Told[] = [];
  for (const e of everywhere("*")) {
    if (seen.length === most) break;
    const used = e.matches(usable) && e.localName !== "label";
    const text = used || e.childElementCount > 0 ? "" : (e.textContent ?? "").replace(/\s+/g, " ").trim();
    if ((!used && !text) || !shows(e)) continue;
    seen.push(e);
    found.push(used ? told(e) : { name: shortened(text), role: roleOf(e), rect: rectOf(e) });
  }
  return found;
}

function shows(e: Element): boolean {
  const { width, height } = e.getBoundingClientRect();
  return width > 0 && height > 0 && getComputedStyle(e).visibility === "visible";
}

/** Waits until the page has been still for a moment, or for four seconds. */
export function settled(): Promise<true> {
  return new Promise((resolve) => {
    let quiet: ReturnType<typeof setTimeout>;
    const over = () => {
      watch.disconnect();
      clearTimeout(quiet);
      clearTimeout(late);
      resolve(true);
    };
    const late = setTimeout(over, 4000);
    const wait = () => {
      clearTimeout(quiet);
      quiet = setTimeout(over, 300);
    };
    const watch = new MutationObserver(wait);
    watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
    wait();
  });
}

/** Brings what is to be used into view; where it is then. */
export function bring(at: number): Told | undefined {
  const e = seen[at];
  if (!e?.isConnected) return undefined;
  const r = rectOf(e);
  if (r.y < 0 || r.y + r.h > innerHeight) e.scrollIntoView({ block: "center", behavior: "instant" });
  return { name: nameOf(e), role: roleOf(e), rect: rectOf(e) };
}

/** Does an act again; of what has no element, at is -1. Where what was found is there no more, nothing is done. */
export function perform(at: number, { kind, text = "" }: Act): void {
  const found = seen[at];
  if (at >= 0 && !found?.isConnected) throw new Error("what was found is not on the page any more");
  if (!found && kind !== "back" && kind !== "shortcut") throw new Error("nothing was found to do it on");
  const e = found ?? document.activeElement ?? document.body;
  if (kind === "back") history.back();
  else if (kind === "click") click(e);
  else if (kind === "double-click") {
    click(e);
    click(e);
    e.dispatchEvent(new MouseEvent("dblclick", { ...middle(e), detail: 2 }));
  } else if (kind === "right-click") {
    press(e, 2);
    e.dispatchEvent(new MouseEvent("contextmenu", { ...middle(e), button: 2 }));
  } else if (kind === "point") e.dispatchEvent(new MouseEvent("mouseover", middle(e)));
  else if (kind === "keys" || kind === "set") write(e, text);
  else if (kind === "choose" && e instanceof HTMLSelectElement) {
    const wanted = text.split(", ");
    for (const o of e.options) o.selected = wanted.includes(o.label);
    changes(e);
  } else if (kind === "shortcut") keys(e, text);
}

/** The middle of an element, as events tell it. */
function middle(e: Element): MouseEventInit {
  const { x, y, w, h } = rectOf(e);
  return { bubbles: true, cancelable: true, composed: true, view: window, clientX: x + w / 2, clientY: y + h / 2 };
}

function press(e: Element, button: number) {
  e.dispatchEvent(new PointerEvent("pointerdown", { ...middle(e), button, isPrimary: true, pointerType: "mouse" }));
  e.dispatchEvent(new MouseEvent("mousedown", { ...middle(e), button }));
  (e as HTMLElement).focus?.();
  e.dispatchEvent(new PointerEvent("pointerup", { ...middle(e), button, isPrimary: true, pointerType: "mouse" }));
  e.dispatchEvent(new MouseEvent("mouseup", { ...middle(e), button }));
}

function click(e: Element) {
  press(e, 0);
  if (e instanceof HTMLElement) e.click();
  else e.dispatchEvent(new MouseEvent("click", middle(e)));
}

const changes = (e: Element) => {
  e.dispatchEvent(new InputEvent("input", { bubbles: true, composed: true }));
  e.dispatchEvent(new Event("change", { bubbles: true }));
};

/** Writes as a person would, past what the page's own scripts have put over the field. */
function write(e: Element, text: string) {
  (e as HTMLElement).focus?.();
  if (e instanceof HTMLInputElement || e instanceof HTMLTextAreaElement) {
    const kind = e instanceof HTMLInputElement ? HTMLInputElement : HTMLTextAreaElement;
    Object.getOwnPropertyDescriptor(kind.prototype, "value")?.set?.call(e, text);
  } else e.textContent = text;
  changes(e);
}

const names: Record<string, string> = {
  Space: " ",
  Up: "ArrowUp",
  Down: "ArrowDown",
  Left: "ArrowLeft",
  Right: "ArrowRight",
  Esc: "Escape",
};

function keys(e: Element, text: string) {
  const parts = text.split("+");
  const last = parts.pop() ?? "";
  const init: KeyboardEventInit = {
    key: names[last] ?? (last.length === 1 && !parts.includes("Shift") ? last.toLowerCase() : last),
    ctrlKey: parts.includes("Ctrl"),
    altKey: parts.includes("Alt"),
    metaKey: parts.includes("Meta"),
    shiftKey: parts.includes("Shift"),
    bubbles: true,
    cancelable: true,
    composed: true,
  };
  const goes = e.dispatchEvent(new KeyboardEvent("keydown", init));
  e.dispatchEvent(new KeyboardEvent("keyup", init));
  if (goes && text === "Enter" && e instanceof HTMLInputElement) e.form?.requestSubmit();
}
