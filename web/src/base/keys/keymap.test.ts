import { describe, expect, it } from "vitest";
import { pressed } from "./keymap";

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
