import { describe, expect, it } from "vitest";
import { type Binding, enter, keysOn, pressed } from "./keymap";

const press = (key: string, more: Partial<KeyboardEvent> = {}) =>
  ({ key, code: "", ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more }) as KeyboardEvent;

describe("a key as a list writes it", () => {
  it("is a place on the keyboard where it is a letter alone, or with Alt", () => {
    expect(pressed("Q", press("a", { code: "KeyQ" }))).toBe(true); // on a French keyboard
    expect(pressed("Q", press("q", { code: "KeyA" }))).toBe(false);
    expect(pressed("Alt+T", press("†", { code: "KeyT", altKey: true }))).toBe(true); // as an Apple keyboard writes it
    expect(pressed("Ctrl+Alt+M", press("µ", { code: "KeyM", altKey: true, ctrlKey: true }))).toBe(true);
  });

  it("is what is printed on it with Ctrl alone, and Command counts as Ctrl", () => {
    expect(pressed("Ctrl+Z", press("z", { code: "KeyY", ctrlKey: true }))).toBe(true); // on a German keyboard
    expect(pressed("Ctrl+Z", press("y", { code: "KeyZ", ctrlKey: true }))).toBe(false);
    expect(pressed("Ctrl+Z", press("z", { metaKey: true }))).toBe(true);
  });

  it("is another with Shift, but for signs that need it on some keyboards", () => {
    expect(pressed("Ctrl+Z", press("Z", { ctrlKey: true, shiftKey: true }))).toBe(false);
    expect(pressed("Ctrl+Shift+Z", press("Z", { ctrlKey: true, shiftKey: true }))).toBe(true);
    expect(pressed("?", press("?", { shiftKey: true }))).toBe(true);
    expect(pressed("Plus", press("+"))).toBe(true);
    expect(pressed("Page Down", press("PageDown", { altKey: true }))).toBe(false);
    expect(pressed("Alt+Page Down", press("PageDown", { altKey: true }))).toBe(true);
    expect(pressed("Alt+Page Down", press("PageDown", { altKey: true, shiftKey: true }))).toBe(false);
  });
});

/** What has the keyboard: an element that is within some others, which its selectors name. */
class Focused extends EventTarget {
  readonly ownerDocument = { body: undefined, documentElement: undefined };

  constructor(private readonly within: string[]) {
    super();
  }

  closest = (selectors: string) => (this.within.some((w) => selectors.includes(w)) ? this : null);
  matches = (selectors: string) => this.within[0] === "textarea" && selectors.includes("textarea");
}

/** Presses a key where nothing else hears of it, and answers whether the browser still does what it would. */
function type(on: EventTarget, e: Partial<KeyboardEvent>) {
  const event = Object.assign(new Event("keydown", { cancelable: true }), press(e.key ?? "", e));
  on.dispatchEvent(event);
  return !event.defaultPrevented;
}

describe("keys of a page", () => {
  const told: string[] = [];
  const does = (name: string, more: Partial<Binding> = {}): Binding => ({
    keys: "Q",
    does: name,
    run: () => told.push(name),
    ...more,
  });
  const q = { key: "q", code: "KeyQ" };
  const heard = () => told.splice(0);

  it("belong to what came last, for as long as it is there", () => {
    const on = new Focused([]);
    const leave = [enter(on, { name: "under", bindings: () => [does("under")] })];
    leave.push(enter(on, { name: "over", bindings: () => [does("over")] }));
    expect(type(on, q)).toBe(false);
    expect(heard()).toEqual(["over"]);
    leave.pop()?.();
    type(on, q);
    expect(heard()).toEqual(["under"]);
    leave.pop()?.();
    expect(type(on, q)).toBe(true);
    expect(heard()).toEqual([]);
  });

  it("go on to the next where one was not meant", () => {
    const on = new Focused([]);
    enter(on, { name: "under", bindings: () => [does("under")] });
    enter(on, { name: "over", bindings: () => [does("over", { run: () => false })] });
    type(on, q);
    expect(heard()).toEqual(["under"]);
  });

  it("are no keys in a field, in words, in a dialog, a menu or a list, but those that say so", () => {
    for (const where of ["textarea", "[contenteditable=true]", "[role=dialog]", "[role=menu]", "[role=listbox]"]) {
      const on = new Focused([where]);
      enter(on, { name: "page", bindings: () => [does("plain"), does("words", { writing: "words" })] });
      enter(on, { name: "page", bindings: () => [does("fields", { keys: "Ctrl+Alt+M", writing: "fields" })] });
      type(on, q);
      expect(heard()).toEqual(where === "[contenteditable=true]" ? ["words"] : []);
      type(on, { key: "m", code: "KeyM", ctrlKey: true, altKey: true });
      expect(heard()).toEqual(where.startsWith("[role") ? [] : ["fields"]);
    }
  });

  it("are listed as they are bound, each act once", () => {
    const on = new Focused([]);
    enter(on, { name: "Picture", bindings: () => [does("Box", { keys: ["W", "Shift+W"] })] });
    const arrows = ["Shift+Left", "Shift+Right", "Shift+Up", "Shift+Down"];
    enter(on, { name: "Picture", bindings: () => [does("Box"), does("By ten", { keys: arrows, run: undefined })] });
    enter(on, { name: "Nothing", bindings: () => [] });
    expect(keysOn(on)).toEqual([
      {
        name: "Picture",
        keys: [
          { keys: ["Q"], does: "Box" },
          { keys: ["Shift+Arrows"], does: "By ten" },
        ],
      },
    ]);
  });
});
