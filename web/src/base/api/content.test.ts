import { expect, test } from "vitest";
import type { Content } from "./client";
import { emptyStep, plain, saying, tidy } from "./content";

test("what is in order already stays the same object, so that pictures are not drawn anew for each letter", () => {
  const figures = tidy([{ alt: "x", id: "f", marks: [{ id: "m", points: [{ x: 1, y: 2 }] }] }]);
  const content = tidy({ words: { type: "doc" }, notice: undefined, type: "step", figures });
  expect(Object.keys(content)).toEqual(["figures", "type", "words"]);
  expect(content.figures).toBe(figures);
  expect(tidy(content)).toBe(content);
  expect(tidy({ ...content, words: { type: "doc", content: [] } }).figures).toBe(figures);
  expect(JSON.stringify(tidy({ b: [{ d: 1, c: undefined }], a: null }))).toBe('{"a":null,"b":[{"d":1}]}');
});

test("what was read in a picture stands at the end of the words, a paragraph for each line", () => {
  const said = (words: Content["words"]) =>
    (words.content ?? []).map((p) => (p.content ?? []).map((n) => n.text ?? "").join(""));
  const step = { ...emptyStep(), words: plain("Look.") };
  expect(said(saying(step, "Lot\tL-77\n\n Bins 12 ").words)).toEqual(["Look.", "Lot  L-77", "Bins 12"]);
  expect(said(saying(emptyStep(), "Lot").words)).toEqual(["Lot"]); // no empty line before it
  expect(said(step.words)).toEqual(["Look."]);
});
