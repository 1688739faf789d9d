// @vitest-environment jsdom
import { beforeEach, expect, test, vi } from "vitest";
import { bring, collect, perform } from "./again";

// A page without layout: everything has a place of its own.
Element.prototype.getBoundingClientRect = () => ({ x: 10, y: 20, width: 30, height: 40 }) as DOMRect;
// The window of these tests is not the one that their document knows of.
for (const kind of ["MouseEvent", "PointerEvent"] as const)
  vi.stubGlobal(
    kind,
    class extends (globalThis[kind] ?? MouseEvent) {
      constructor(type: string, init?: MouseEventInit) {
        super(type, { ...init, view: null });
      }
    },
  );

const heard: string[] = [];

/** A page, what is found on it, and what happens to it from then on. */
function page(html: string) {
  document.body.innerHTML = html;
  heard.length = 0;
  const found = collect();
  return (name: string) => found.findIndex((f) => f.name === name);
}

beforeEach(() => {
  document.body.replaceWith(document.createElement("body"));
  for (const kind of [
    "pointerdown",
    "mousedown",
    "mouseup",
    "click",
    "dblclick",
    "contextmenu",
    "input",
    "change",
    "keydown",
    "submit",
  ])
    document.body.addEventListener(kind, (e) => {
      heard.push(e instanceof KeyboardEvent ? `${kind} ${e.ctrlKey ? "Ctrl+" : ""}${e.key}` : kind);
      if (kind === "submit") e.preventDefault();
    });
});

test("what can be used is found, and what is written, that of a label, too", () => {
  document.body.innerHTML = `<label for="lot">Lot</label><input id="lot"><button>Save</button><p>Two bins <b>wait</b></p><p>Ready</p>`;
  expect(collect().map((f) => `${f.role} ${f.name}`)).toEqual([
    " Lot",
    "textbox Lot",
    "button Save",
    " wait",
    " Ready",
  ]);
});

test("a press, a double press and one of the other button are as a hand makes them", () => {
  const at = page("<button>Save</button>");
  perform(at("Save"), { kind: "click" });
  expect(heard).toEqual(["pointerdown", "mousedown", "mouseup", "click"]);
  heard.length = 0;
  perform(at("Save"), { kind: "double-click" });
  expect(heard.filter((k) => k.endsWith("click"))).toEqual(["click", "click", "dblclick"]);
  heard.length = 0;
  perform(at("Save"), { kind: "right-click" });
  expect(heard).toContain("contextmenu");
  expect(heard).not.toContain("click");
});

test("what is typed goes past what a page has put over its field", () => {
  const at = page(`<input aria-label="Lot">`);
  const field = document.querySelector("input");
  if (!field) throw new Error("no field");
  Object.defineProperty(field, "value", { get: () => "old", set: () => undefined, configurable: true });
  perform(at("Lot"), { kind: "keys", text: "LOT-7" });
  expect(Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.get?.call(field)).toBe("LOT-7");
  expect(heard).toEqual(["input", "change"]);
  expect(document.activeElement).toBe(field);
});

test("a list is chosen from by what its lines say, several at once", () => {
  const at = page(
    `<select multiple aria-label="Bins"><option>A</option><option selected>B</option><option>C</option></select>`,
  );
  perform(at("Bins"), { kind: "choose", text: "A, C" });
  expect([...document.querySelectorAll("option")].map((o) => o.selected)).toEqual([true, false, true]);
  expect(heard).toEqual(["input", "change"]);
});

test("shortcuts are pressed as they are told, and Enter sends a form unless the page has taken it", () => {
  const at = page(`<form><input aria-label="Lot"></form>`);
  perform(at("Lot"), { kind: "shortcut", text: "Ctrl+S" });
  expect(heard).toEqual(["keydown Ctrl+s"]);
  perform(at("Lot"), { kind: "shortcut", text: "Enter" });
  expect(heard).toContain("submit");
  heard.length = 0;
  document.querySelector("input")?.addEventListener("keydown", (e) => e.preventDefault());
  perform(at("Lot"), { kind: "shortcut", text: "Enter" });
  expect(heard).toEqual(["keydown Enter"]);
});

test("what is not on the page any more is not acted on", () => {
  const at = page("<button>Save</button>");
  const save = at("Save");
  expect(bring(save)?.name).toBe("Save");
  document.querySelector("button")?.remove();
  expect(bring(save)).toBeUndefined();
  expect(() => perform(save, { kind: "click" })).toThrow("not on the page any more");
  expect(() => perform(-1, { kind: "click" })).toThrow("nothing was found");
  expect(heard).toEqual([]);
});
