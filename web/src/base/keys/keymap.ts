import { fields } from "./fields";
import { letterKeys } from "./letterKeys";
import { isElement } from "../typed";

/** A key, or some that do the same: "Delete", "Ctrl+Alt+W", "Page Down". Letters alone, or with Alt, are places. */
export type Binding = {
  keys: string | string[];
  /** What it does, as the list of keys says it. */
  does: string;
  /** Without it, who has the keyboard does it, and the list only says so. False: it was not for this one. */
  run?: (e: KeyboardEvent) => unknown;
  release?: () => void;
  /** Also where words of a document are written, or in every field. Else it is theirs. */
  writing?: "words" | "fields";
  /** Only while what has the keyboard is in here, or nothing has it. */
  within?: string;
  /** Not while what has the keyboard is in here. */
  except?: string;
  /** Before who has the keyboard sees it. */
  first?: boolean;
};

/** Keys that go together, as long as something is on the page. */
export type Scope = { name: string; bindings: () => readonly Binding[] };

const names: Record<string, string> = {
  "Page Down": "PageDown",
  "Page Up": "PageUp",
  Left: "ArrowLeft",
  Right: "ArrowRight",
  Up: "ArrowUp",
  Down: "ArrowDown",
  Space: " ",
  Plus: "+",
};

/** Where keys belong to what is open: they mean nothing else until it is shut. */
const above = "[role=dialog], [role=alertdialog], [role=menu], [role=listbox]";

const isLetter = (key: string) => /^[A-Z]$/.test(key);

/** A key by itself that someone might press without meaning to (WCAG 2.2, 2.1.4). */
const bare = (keys: string) => keys.length === 1 || /^Shift\+.$/.test(keys);

/** Whether a key, as it is written in a list, is pressed. */
export function pressed(keys: string, e: KeyboardEvent): boolean {
  const parts = keys.split("+");
  const key = parts.pop() ?? "";
  const name = names[key] ?? key;
  if (name === "Alt") return e.key === "Alt";
  const ctrl = parts.includes("Ctrl");
  const alt = parts.includes("Alt");
  if ((e.ctrlKey || e.metaKey) !== ctrl || e.altKey !== alt) return false;
  if (name.length === 1 && name !== " " && !isLetter(name)) return e.key === name; // with Shift or without, as the keyboard has it
  if (e.shiftKey !== parts.includes("Shift")) return false;
  // With Ctrl alone a letter is what is printed on the key: people know them by that. Else it is a place.
  if (isLetter(name)) return ctrl && !alt ? e.key.toUpperCase() === name : e.code === `Key${name}`;
  return e.key === name;
}

function allowed(b: Binding, keys: string, target: Element): boolean {
  if (target.closest(above)) return false;
  if (target.matches(fields)) {
    if (b.writing !== "fields") return false;
  } else if (target.closest("[contenteditable=true]") && !b.writing) return false;
  if (b.except && target.closest(b.except)) return false;
  const root = target === target.ownerDocument.body || target === target.ownerDocument.documentElement;
  if (b.within) return root || target.closest(b.within) !== null;
  return !bare(keys) || letterKeys.on();
}

const listed = (b: Binding) => (typeof b.keys === "string" ? [b.keys] : b.keys);

/** The scopes of a window; the last one is asked first. */
class Keymap {
  readonly scopes: Scope[] = [];

  press(e: KeyboardEvent, first: boolean) {
    const { target } = e;
    if (e.isComposing || e.defaultPrevented || !isElement(target)) return;
    for (const scope of this.scopes.toReversed()) {
      for (const b of scope.bindings()) {
        if (!b.run || (b.first ?? false) !== first) continue;
        if (!listed(b).some((k) => pressed(k, e) && allowed(b, k, target))) continue;
        if (b.run(e) === false) continue;
        e.preventDefault();
        if (first) e.stopPropagation();
        return;
      }
    }
  }

  release(e: KeyboardEvent) {
    for (const scope of this.scopes)
      for (const b of scope.bindings()) if (b.release && listed(b).some((k) => (names[k] ?? k) === e.key)) b.release();
  }
}

const keymaps = new WeakMap<EventTarget, Keymap>();

/** Whether an event is of a key, in whichever window. */
const ofKey = (e: Event): e is KeyboardEvent => "key" in e;

function keymapOf(on: EventTarget): Keymap {
  const known = keymaps.get(on);
  if (known) return known;
  const made = new Keymap();
  keymaps.set(on, made);
  on.addEventListener("keydown", (e) => ofKey(e) && made.press(e, true), true);
  on.addEventListener("keydown", (e) => ofKey(e) && made.press(e, false));
  on.addEventListener("keyup", (e) => ofKey(e) && made.release(e));
  return made;
}

/** Keys begin to mean something. The answer ends it. */
export function enter(on: EventTarget, scope: Scope): () => void {
  const { scopes } = keymapOf(on);
  scopes.push(scope);
  return () => void scopes.splice(scopes.indexOf(scope), 1);
}

/** What of them a list says: that Shift does the same goes without saying, and four arrows are one. */
function told(b: Binding): string[] {
  const all = listed(b).filter((k) => !listed(b).some((other) => k === `Shift+${other}`));
  return ["Left", "Right", "Up", "Down"].every((arrow, i) => all[i]?.endsWith(arrow))
    ? [(all[0] ?? "").replace("Left", "Arrows")]
    : all;
}

/** What keys mean on a page as it is now, by scope, the nearest one first. */
export function keysOn(on: EventTarget): { name: string; keys: { keys: string[]; does: string }[] }[] {
  const all: { name: string; keys: { keys: string[]; does: string }[] }[] = [];
  for (const scope of keymapOf(on).scopes.toReversed()) {
    const found = all.find((s) => s.name === scope.name);
    const list = found?.keys ?? [];
    for (const b of scope.bindings())
      if (!list.some((known) => known.does === b.does)) list.push({ keys: told(b), does: b.does });
    if (!found) all.push({ name: scope.name, keys: list });
  }
  return all.filter((s) => s.keys.length > 0);
}
