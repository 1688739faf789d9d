import { expect, test } from "vitest";
import { tidy } from "./model";

test("what is in order already stays the same object, so that pictures are not drawn anew for each letter", () => {
  const figures = tidy([{ alt: "x", id: "f", marks: [{ id: "m", points: [{ x: 1, y: 2 }] }] }]);
  const content = tidy({ words: { type: "doc" }, notice: undefined, type: "step", figures });
  expect(Object.keys(content)).toEqual(["figures", "type", "words"]);
  expect(content.figures).toBe(figures);
  expect(tidy(content)).toBe(content);
  expect(tidy({ ...content, words: { type: "doc", content: [] } }).figures).toBe(figures);
  expect(JSON.stringify(tidy({ b: [{ d: 1, c: undefined }], a: null }))).toBe('{"a":null,"b":[{"d":1}]}');
});
